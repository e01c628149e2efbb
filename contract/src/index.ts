export * from './common.ts';
export * from './people/people.ts';
export * from './workspaces/workspaces.ts';
export * from './drivers/drivers.ts';
export * from './forecast/forecast.ts';
export * from './actuals/actuals.ts';
export * from './budgets/budgets.ts';
export * from './targets/targets.ts';
