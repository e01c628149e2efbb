import { plural, type Value } from '../format/words.ts';

/** The texts of reporting, by the part that shows each first. */
export const TEXTS = {
  // AccessRoom
  bothCanOnlyReadAnd:
    'Both can only read, and can be withdrawn at any time. A token is shown once; only its hash is kept.',
  tokenCopyItNowIt: (made: Value): string => `Token “${made}”. Copy it now; it is shown only once:`,
  accessTokensForReportingTools: 'Access tokens for reporting tools',
  tablesByPageAsJson: (tables: Value): string => `Tables: ${tables}; by the page, as JSON or CSV.`,
  whatTokenIsFor: 'What the token is for',
  createToken: 'Create token',
  tokens: 'Tokens',
  for: 'For',
  startsWith: 'Starts with',
  lastUsed: 'Last used',
  withdraw: 'Withdraw',
  never: 'never',
  withdrawOf: (token: Value): string => `Withdraw ${token}`,
  embeddedViews: 'Embedded views',
  tableOrChartWithAddress:
    'A table or chart with an address of its own, to be shown in other pages. Create one by Embed in the menu of',
  orSummaryOf: 'or the summary of',
  views: 'Views',
  view: 'View',
  created: 'Created',
  actualsSummary: 'Actuals, summary',
  to: (from: Value, to: Value): string => `${from} to ${to}`,
  accessTokensOfYoursEmbedded: (count: number, shown: number): string =>
    `${count} access ${plural(count, 'token', 'tokens')} of yours, ${shown} embedded ${plural(shown, 'view', 'views')}`,

  // EmbedDialog
  embedThisTableInAnother: 'Embed this table in another page',
  whoeverHasAddressSeesCurrent:
    'Whoever has the address sees the current numbers, read only, in a frame of 400 by 300 or larger. It can be withdrawn under Settings, Reporting access.',
  showAs: 'Show as',
  only: (subject: Value): string => `Only ${subject}.`,
  thisIsAddressItIs: 'This is the address. It is shown only once:',
  openIt: 'Open it',
  against: (against: Value): string => `against ${against}`,
  in: (subject: Value): string => `in ${subject}`,
  by: (measured: Value, rowHeading: Value, where: Value): string =>
    `${measured} by ${rowHeading} ${where}`,
  table: 'Table',
  chartOfFirstSide: 'Chart of the first side',
  chartOfTotal: 'Chart of the total',
  movingWithClosedMonths: (preset: Value): string => `${preset}, moving with the closed months`,
  fixed: (span: Value): string => `${span}, fixed`,
  createAddress: 'Create address',
  copied: 'Copied',
  copyAddress: 'Copy address',
};
