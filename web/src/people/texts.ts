import { plural, type Value } from '../format/words.ts';

/** The texts of people, by the part that shows each first. */
export const TEXTS = {
  // AuditRoom
  signInsRolesAccessTokens:
    'Sign-ins, roles, access tokens and exports of the people of this workspace; kept for 400 days',
  exportAuditLog: 'Export audit log',
  exportCsv: 'Export CSV',
  filter: 'Filter',
  what: 'What',
  person: 'Person',
  to: 'To',
  nothingWasDoneThatFits: 'Nothing was done that fits the filter',
  showEverything: 'Show everything',
  when: 'When',
  address: 'Address',
  detail: 'Detail',
  nobodyKnown: 'nobody known',
  everything: 'Everything',
  nothingHasBeenWrittenDown: 'Nothing has been written down',
  theLast: (limit: Value): string => `The last ${limit}`,
  eventsFailed: (events: Value, failures: number): string =>
    `${events} events, ${failures} failed ${plural(failures, 'sign-in', 'sign-ins')}`,

  // ChoosePassword
  choosePasswordFor: (person: Value, email: Value): string =>
    `${person}, choose a password for ${email}.`,
  ifYouHaveSignedIn: 'If you have signed in to Dravex before, enter the password that you have.',
  passwordAtLeast10Characters: 'Password, at least 10 characters',
  passwordAgain: 'Password again',
  twoPasswordsDiffer: 'The two passwords differ',
  savePassword: 'Save password',
  goToSignIn: 'Go to sign-in',

  // ClosedPage
  asksForSecondFactor: (name: Value): string => `${name} asks for a second factor.`,
  goTo: (name: Value): string => `Go to ${name}`,
  signOut: 'Sign out',

  // OwnSessions
  whereIAmSignedIn: 'Where I am signed in',
  sessions: 'Sessions',
  browser: 'Browser',
  signedIn: 'Signed in',
  lastUsed: 'Last used',
  actions: 'Actions',
  thisBrowser: 'this browser',
  signedOutEverywhereElse: 'Signed out everywhere else',
  signOutEverywhereElse: 'Sign out everywhere else',
  signedOutOf: (browser: Value): string => `Signed out of ${browser}`,

  // OwnSettings
  myPreferences: 'My preferences',
  theme: 'Theme',
  numberAndDateFormat: 'Number and date format',
  firstRoom: 'First room',
  changePassword: 'Change password',
  currentPassword: 'Current password',
  newPasswordAtLeast10: 'New password, at least 10 characters',
  light: 'Light',
  dark: 'Dark',
  system: 'System',
  asInWorkspace: (locale: Value): string => `As in the workspace (${locale})`,
  yourPasswordIsChangedYour: 'Your password is changed; your other sessions have ended',

  // PartsField
  partOfTargets: 'Part of the targets',
  noTeamOrPersonOf: 'No team or person of this name is in the targets',

  // PeopleList
  people: 'People',
  eMailAddress: 'E-mail address',
  role: 'Role',
  invited: 'invited',
  actionsFor: (one: Value): string => `Actions for ${one}`,
  changeRoleAndPart: 'Change role and part',
  newInvitationLink: 'New invitation link',
  resetPasswordByLink: 'Reset password by a link',
  removeSecondFactor: 'Remove second factor',
  removeFromWorkspace: 'Remove from workspace',
  everybodyNeedsSecondFactor: 'Everybody needs a second factor',
  invitePerson: 'Invite person',
  inviteAPerson: 'Invite a person',
  invite: 'Invite',
  theyChooseTheirOwnPassword: 'They choose their own password by a link that you send them.',
  roleAndPartOf: (changing: Value): string => `Role and part of ${changing}`,
  secondFactorOf: (taking: Value): string => `Second factor of ${taking}`,
  thenSignsInWithPassword: (taking: Value): string =>
    `${taking} then signs in with a password only, until they set up another one. It is for a phone and recovery codes that are lost; it cannot be undone.`,
  linkFor: (made: Value): string => `Link for ${made}`,
  sendThisLinkToIt: (made: Value, untilWhen: Value): string =>
    `Send this link to ${made}. It is shown only once, works once, and is valid until ${untilWhen}.`,
  copied: 'Copied',
  copyLink: 'Copy link',
  done: 'Done',
  readerSeesEverythingChangesNothing: 'Reader: sees everything, changes nothing',
  contributorFillsInOwnBudget: 'Contributor: fills in the own budget sheets, sees the own targets',
  managerSeesAndDividesOwn: 'Manager: sees and divides the own part of the targets',
  plannerSeesAndChangesEverything: 'Planner: sees and changes everything',
  ownerPlansAndSaysWho: 'Owner: plans, and says who may enter',
  of: (it: Value): string => `of ${it}`,
  withoutPartYet: 'without a part yet',
  isNow: (one: Value, role: Value): string => `${one} is ${role} now`,
  removed: (name: Value): string => `Removed ${name}`,
  signsInWithPasswordOnly: (name: Value): string => `${name} signs in with a password only`,

  // SecondFactor
  secondFactor: 'Second factor',
  signingInTakesYourPassword: 'Signing in takes your password and a code from your authenticator.',
  withSecondFactorSigningIn:
    'With a second factor, signing in takes a code from an authenticator on your phone as well.',
  turnOffSecondFactor: 'Turn off second factor',
  setUpSecondFactor: 'Set up second factor',
  continue: 'Continue',
  addItToYourAuthenticator: 'Add it to your authenticator',
  turnOn: 'Turn on',
  scanThisWithYourAuthenticator: 'Scan this with your authenticator, or type the secret into it.',
  qrCodeOfSecondFactor: 'QR code of the second factor',
  codeThatItShowsNow: 'Code that it shows now',
  recoveryCodes: 'Recovery codes',
  keepTheseWhereYouFind:
    'Keep these where you find them without your phone. Each signs you in once in place of a code. They are shown only now.',
  copyCodes: 'Copy codes',
  turnOff: 'Turn off',
  codeOrRecoveryCode: 'Code, or a recovery code',

  // SignIn
  whatWeWillSellWho: 'What we will sell, who sells it, how we did.',
  password: 'Password',
  codeFromYourAuthenticatorOr: 'Code from your authenticator, or a recovery code',
  signIn: 'Sign in',

  // SignInAgain
  yourSessionHasEnded: 'Your session has ended',
  nothingYouTypedIsLost: (person: Value): string =>
    `Nothing you typed is lost. Sign in as ${person} and it will be saved.`,
  discardMyChanges: 'Discard my changes',
};
