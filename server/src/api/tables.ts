/** All tables of all rooms, for migrations. */
export * from '../people/tables.ts';
export * from '../workspaces/tables.ts';
export * from '../dimensions/tables.ts';
export * from '../actuals/tables.ts';
export * from '../connections/tables.ts';
export * from '../drivers/tables.ts';
export * from '../forecast/tables.ts';
export * from '../budgets/tables.ts';
export * from '../closing/tables.ts';
export * from '../targets/tables.ts';
export * from '../reporting/tables.ts';
export * from '../ledger/tables.ts';
export * from '../sheets/tables.ts';
export * from '../threads/tables.ts';
export * from '../views/tables.ts';
export * from '../journal/tables.ts';
