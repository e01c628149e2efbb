import { type Value } from '../format/words.ts';

/** The texts of settings, by the part that shows each first. */
export const TEXTS = {
  // SettingsNav
  settings: 'Settings',
  workspace: 'Workspace',
  reportingAccess: 'Reporting access',

  // SettingsRoom
  workspaceSettings: (workspace: Value): string => `${workspace}: workspace settings`,
  calendar: 'Calendar',
  horizonEndsInAsOf: (last: Value, asOf: Value): string =>
    `The horizon ends in ${last}; as of ${asOf}. Months are closed in`,
  changeDates: 'Change dates',
  planFile: 'Plan file',
  wholePlanInOneFile: 'The whole plan in one file;',
  calculatesSameNumbersFromIt: 'calculates the same numbers from it.',
  dravexCompute: 'dravex compute',
  exportPlanFile: 'Export plan file',
  newWorkspaceFromPlanFile: 'New workspace from plan file',
  workspaces: 'Workspaces',
  newWorkspace: 'New workspace',
  api: 'API',
  everythingBrowserDoesIsDone: 'Everything the browser does is done by requests:',
  orTakeThe: ', or take the',
  readTheReference: 'read the reference',
  openapiDescription: 'OpenAPI description',
  fiscalYearFromToClosed: (
    fiscalStart: Value,
    currency: Value,
    from: Value,
    to: Value,
    closedThrough: Value,
    asOf: Value,
  ): string =>
    `Fiscal year from ${fiscalStart}, ${currency}, ${from} to ${to}, closed through ${closedThrough}, as of ${asOf}`,
  isNotPlanFileIt: (file: Value): string => `${file} is not a plan file: it is not JSON`,
};
