import { type Value } from '../format/words.ts';

/** The texts of connections, by the part that shows each first. */
export const TEXTS = {
  // ConnectionsRoom
  stopImport: 'Stop import',
  importNow: 'Import now',
  test: 'Test',
  connectOrderBook: 'Connect order book',
  changeAddressOrKey: 'Change address or key',
  disconnect: 'Disconnect',
  noOrderBookIsConnected: 'No order book is connected',
  salesCanBeImportedFrom:
    'Sales can be imported from files under Actuals, or delivered by an order book.',
  enterTheKey: 'Enter the key',
  imports: 'Imports',
  imported: 'Imported',
  corrected: 'Corrected',
  onHold: 'On hold',
  result: 'Result',
  notImportedYet: 'Not imported yet.',
  importingFrom: (name: Value): string => `Importing from ${name}`,
  importStopsWhatItBrought: 'The import stops; what it brought so far is kept.',
  importIsRunningItsResult: 'The import is running; its result is listed below.',
  timesAreChanged: 'The times are changed.',
  isAssignedDocumentsOnHold: (settlement: Value): string =>
    `${settlement} is assigned; the documents on hold for it are being imported.`,
  importsUseThisFromNow: 'Imports use this from now on.',
  isDisconnectedSalesThatIt: (name: Value): string =>
    `${name} is disconnected; the sales that it delivered stay.`,

  // EditConnection
  changeTheConnection: 'Change the connection',
  address: 'Address',
  apiKey: 'API key',
  enterKeyOfThisAddress: 'Enter the key of this address',
  leaveItEmptyToKeep: 'Leave it empty to keep the key; another address needs its own',
  isChanged: (body: Value): string => `${body} is changed`,

  // FieldsForm
  whereEachDimensionComesFrom: 'Where each dimension comes from',
  notSetEveryDocumentIs: 'Not set: every document is on hold',
  itemsAndCustomersAreIn: (items: Value, customers: Value): string =>
    `${items} items and ${customers} customers are in the order book. Changes apply to the imports that follow.`,
  itemOfLine: 'Item of the line',
  channelOfDocument: 'Channel of the document',
  groupOfDocument: 'Group of the document',
  regionOfDocument: 'Region of the document',
  groupThatCustomerBelongsTo: 'Group that the customer belongs to on that day',
  always: (member: Value): string => `Always ${member}`,

  // HeldDocuments
  documentsOnHold: 'Documents on hold',
  theyAreTriedAgainWith:
    'They are tried again with every import. A document is on hold as a whole.',
  of: (number: Value, date: Value): string => `${number} of ${date}`,
  andMore: (documents: Value): string => ` and ${documents} more`,
  orderBookCallsIt: (first: Value): string => `The order book calls it ${first}.`,
  nameOf: (first: Value): string => `Name of ${first}`,
  parentOf: (first: Value): string => `Parent of ${first}`,
  addMember: 'Add member',
  orChooseExistingMember: 'or choose an existing member',
  existingMemberFor: (first: Value): string => `Existing member for ${first}`,
  assign: 'Assign',
  topLevel: 'top level',
  below: (name: Value): string => `below ${name}`,

  // NewConnection
  connectAnOrderBook: 'Connect an order book',
  connect: 'Connect',
  httpsErpExample: 'https://erp.example',
  orderBook: 'Order book',
  isConnected: (body: Value): string => `${body} is connected`,
};
