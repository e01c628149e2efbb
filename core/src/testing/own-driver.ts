import type { Driver } from '../drivers/driver.ts';

/** A driver of one's own. */
export const own = (part: Partial<Driver> & Pick<Driver, 'code' | 'kind'>): Driver => ({
  name: part.code,
  unit: '',
  minimum: null,
  maximum: null,
  step: null,
  default: null,
  choices: [],
  formula: null,
  ...part,
});
