/**
 * Rounds numbers so that they add up to a whole number: each down, then the largest fractions up, of
 * equal ones the first. Every number is less than 1 from what it was where the sum is their rounded one.
 * @example roundedTogether([1.4, 1.4, -0.3], 3) // [2, 1, 0]
 */
export function roundedTogether(values: readonly number[], sum: number): number[] {
  const floors = values.map(Math.floor);
  const left = sum - floors.reduce((all, value) => all + value, 0);
  const order = values
    .map((value, place) => ({ place, fraction: value - Math.floor(value) }))
    .sort((a, b) => b.fraction - a.fraction || a.place - b.place);
  const rounded = [...floors];
  const count = Math.max(1, order.length);
  for (let step = 0; step < Math.abs(left); step += 1) {
    const at = left > 0 ? step % count : count - 1 - (step % count);
    const place = order[at]?.place ?? 0;
    rounded[place] = (rounded[place] ?? 0) + Math.sign(left);
  }
  return rounded;
}
