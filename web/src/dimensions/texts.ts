import { plural, type Value } from '../format/words.ts';

/** The texts of dimensions, by the part that shows each first. */
export const TEXTS = {
  // CustomerAssignments
  customers: 'Customers',
  chooseMemberToChangeIt: (dimension: Value): string =>
    `Choose a member to change it. A customer can be assigned to a member from a date on; files without a column for ${dimension} follow that.`,
  customerCodes: 'Customer codes',
  belongsTo: 'Belongs to',
  assign: 'Assign',
  noCustomersAreAssignedYet: 'No customers are assigned yet.',
  assignedCustomers: 'Assigned customers',
  firstAreShown: (shown: Value): string => `The first ${shown} are shown.`,
  belongsToFrom: (names: Value, member: Value, from: Value): string =>
    `${names} belongs to ${member} from ${from}.`,

  // DimensionsRoom
  salesCanBeShownBy:
    'Sales can be shown by these. Sales lines of a group include those of its members.',
  addDimension: 'Add dimension',
  importMembers: 'Import members',
  fileOfMembers: 'File of members',
  assignByRule: (chosen: Value): string => `Assign ${chosen} by rule`,
  deleteOf: (chosen: Value): string => `Delete ${chosen}`,
  dimension: 'Dimension',
  membersToAddToChange: (file: Value, added: Value, changed: Value, same: Value): string =>
    `${file}: ${added} members to add, ${changed} to change, ${same} unchanged.`,
  members: (members: number): string => `${members} ${plural(members, 'member', 'members')}`,
  withoutSales: (unsold: Value): string => `, ${unsold} without sales`,
  membersAddedChanged: (added: Value, changed: Value): string =>
    `${added} members added, ${changed} changed.`,

  // MemberPanel
  memberOf: (member: Value): string => `Member ${member}`,
  codeInFiles: 'Code in files',
  parent: 'Parent',
  validFrom: 'Valid from',
  validTo: 'Valid to',
  ledgerAccountOptional: 'Ledger account (optional)',
  replacesOptional: 'Replaces (optional)',
  inComparisonBothAreShown: 'In a comparison both are shown as one pair.',
  mergeIntoAnotherMember: 'Merge into another member',
  mergeInto: 'Merge into',
  chooseAMember: 'Choose a member',
  mergeIntoOf: (from: Value, into: Value): string => `Merge ${from} into ${into}`,
  itHasNoSalesAnd: 'It has no sales and no forecast.',
  deleteMember: 'Delete member',
  noneTopLevel: 'None (top level)',
  isChanged: (body: Value): string => `${body} is changed.`,
  salesLinesLower: 'sales lines',
  forecastLines: 'forecast lines',
  cellsOfSavedVersions: 'cells of saved versions',
  assignedCustomersLower: 'assigned customers',
  forecastLinesEndBecauseHas: (streamsEnded: Value, into: Value): string =>
    ` ${streamsEnded} forecast lines end, because ${into} has one in the same place.`,
  wouldMoveToThisCannot: (kinds: number, what: Value, into: Value, ended: Value): string =>
    `${kinds > 0 ? what : 'Nothing'} would move to ${into}.${ended} This cannot be undone.`,
  isMergedIntoSalesLines: (from: Value, into: Value, lines: Value): string =>
    `${from} is merged into ${into}; ${lines} sales lines moved.`,
  isDeleted: (name: Value): string => `${name} is deleted.`,

  // MemberTable
  findMember: 'Find member',
  membersOf: (dimension: Value): string => `Members of ${dimension}`,
  member: 'Member',
  code: 'Code',
  valid: 'Valid',
  replaces: 'Replaces',
  ledgerAccount: 'Ledger account',
  from: (validFrom: Value): string => `from ${validFrom}`,
  to: (validTo: Value): string => `to ${validTo}`,
  noMemberContains: (search: Value): string => `No member contains “${search}”.`,
  showAll: 'Show all',

  // NewDimension
  salesRegion: 'Sales region',
  firstMember: 'First member',
  allSalesBelongToIt: 'All sales belong to it at first',
  isAddedAllSalesBelong: (body: Value, first: Value): string =>
    `${body} is added; all sales belong to ${first} until they are assigned.`,

  // NewMember
  addMember: 'Add member',
  newMember: 'New member',
  fromTheName: 'from the name',
  topLevel: 'Top level',
  below: (name: Value): string => `below ${name}`,
  isAdded: (body: Value): string => `${body} is added.`,

  // TellApartDialog
  chooseWhatBelongsToWhich: (dimension: Value): string =>
    `Choose what belongs to which member. All past sales are assigned anew, and files that have no column for ${dimension} follow the rule. This cannot be undone, but another rule moves them again.`,
  assignedBy: 'Assigned by',
  customersOf: (leaf: Value): string => `${leaf}: customers`,
  oneLineOrDividedBy: 'one a line, or divided by commas',
  allOthers: 'All others',
  whatMoves: 'What moves',
  movesTo: 'Moves to',
  noSalesAreKnownOf: (withoutSales: Value): string =>
    `No sales are known of ${withoutSales}. Check how they are written; later sales follow the rule.`,
  everythingIsWhereThisRule: 'Everything is where this rule puts it.',
  forecastLinesGoWithTheir: (streams: number): string =>
    `${streams} forecast ${plural(streams, 'line goes', 'lines go')} with their products, and so do budgets and overrides.`,
  forecastLinesStayWhatIs:
    'Forecast lines stay; what is sold beside them is listed in Forecast as not forecast.',
  stayWhereTheyAre: 'stay where they are',
  belongTo: (name: Value): string => `belong to ${name}`,
  salesLinesMoved: (dimension: Value, lines: Value): string =>
    `${dimension}: ${lines} sales lines moved.`,
};
