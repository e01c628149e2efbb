/** A column that holds ids of members in lists: merging members rewrites it. */
export interface ScopeColumn {
  readonly table: string;
  readonly column: string;
  /** What its rows are called, in the plural. */
  readonly what: string;
}

/** Where scopes of members stand, by the table. The kinds of kept things refer to these. */
export const SCOPES = {
  accountScope: { table: 'account_scope', column: 'scope', what: 'accounts of sales' },
  adjustment: { table: 'adjustment', column: 'scope', what: 'changes of drivers' },
  assumption: { table: 'assumption', column: 'scope', what: 'assumptions' },
  observation: { table: 'observation', column: 'members', what: 'measured facts' },
  sheet: { table: 'sheet', column: 'scope', what: 'budget sheets' },
  sheetLine: { table: 'sheet_line', column: 'scope', what: 'lines of budget sheets' },
  subscriber: { table: 'subscriber', column: 'members', what: 'subscribers' },
  target: { table: 'target_node', column: 'scope', what: 'targets' },
  thread: { table: 'thread', column: 'scope', what: 'comments' },
} as const satisfies Readonly<Record<string, ScopeColumn>>;

export const SCOPE_COLUMNS: readonly ScopeColumn[] = Object.values(SCOPES);
