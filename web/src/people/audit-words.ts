import type { AuditKind } from '@dravex/contract';

/** What the audit log holds, as it is read. */
export const AUDIT_WORDS: Readonly<Record<AuditKind, string>> = {
  signedIn: 'Signed in',
  signInFailed: 'Sign-in failed',
  signedOut: 'Signed out',
  sessionEnded: 'Session ended',
  passwordChanged: 'Password changed',
  passwordLinkMade: 'Password link created',
  passwordChosen: 'Password chosen by a link',
  secondFactorOn: 'Second factor turned on',
  secondFactorOff: 'Second factor turned off',
  recoveryCodeUsed: 'Recovery code used',
  invited: 'Person invited',
  roleChanged: 'Role changed',
  removed: 'Person removed',
  entryRules: 'Entry rule changed',
  tokenMade: 'Access token created',
  tokenWithdrawn: 'Access token withdrawn',
  exported: 'Exported',
  refused: 'Refused',
};
