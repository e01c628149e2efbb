/**
 * Cost of sales of one month: net units x unit cost where one is assumed, else revenue x cost share,
 * else no value. Source: calculations, *Methods of a stream*.
 */
export function costOf(units: number, revenue: number, unitCost: number, share: number): number {
  return Number.isNaN(unitCost) ? revenue * share : units * unitCost;
}
