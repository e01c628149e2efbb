/** The least sum of squares of a few numbers within bounds. */

/** Residuals for some parameters, written into `out`; not finite where there are none. */
export type Residuals = (parameters: readonly number[], out: Float64Array) => void;

const STEP = 1e-7;
const MOST_ROUNDS = 60;
/** A round that gains less than this, in proportion, ends the search. */
const ENOUGH = 1e-12;

const clamp = (value: number): number => Math.min(1, Math.max(0, value));

function squares(residuals: Float64Array): number {
  let sum = 0;
  for (const value of residuals) sum += value * value;
  return Number.isFinite(sum) ? sum : Number.POSITIVE_INFINITY;
}

/** Solves a small symmetric system by elimination with pivots; null where it has no solution. */
function solve(matrix: number[][], right: number[]): number[] | null {
  const n = right.length;
  const rows = matrix.map((row, i) => [...row, right[i] ?? 0]);
  for (let column = 0; column < n; column += 1) {
    let pivot = column;
    for (let row = column + 1; row < n; row += 1) {
      if (Math.abs(rows[row]?.[column] ?? 0) > Math.abs(rows[pivot]?.[column] ?? 0)) pivot = row;
    }
    const top = rows[pivot] ?? [];
    rows[pivot] = rows[column] ?? [];
    rows[column] = top;
    const head = top[column] ?? 0;
    if (Math.abs(head) < 1e-300) return null;
    for (let row = 0; row < n; row += 1) {
      const otherRow = rows[row] ?? [];
      if (row === column) continue;
      const factor = (otherRow[column] ?? 0) / head;
      for (let at = column; at <= n; at += 1)
        otherRow[at] = (otherRow[at] ?? 0) - factor * (top[at] ?? 0);
    }
  }
  return rows.map((row, i) => (row[n] ?? 0) / (row[i] ?? 1));
}

/**
 * Goes down from a start to the nearest least sum of squares with every parameter in [0, 1]: steps
 * by Levenberg and Marquardt, cut at the bounds; a parameter that lies at a bound and would leave
 * the box stays there for the step.
 * @param count how many residuals there are
 */
export function leastSquaresInBox(
  residuals: Residuals,
  start: readonly number[],
  count: number,
): { readonly parameters: number[]; readonly squares: number } {
  let at = start.map(clamp);
  let now = new Float64Array(count);
  let next = new Float64Array(count);
  residuals(at, now);
  let least = squares(now);
  if (!Number.isFinite(least)) return { parameters: at, squares: least };
  const columns = at.map(() => new Float64Array(count));
  let damping = 1e-3;
  for (let round = 0; round < MOST_ROUNDS; round += 1) {
    columns.forEach((column, place) => {
      const value = at[place] ?? 0;
      const step = value + STEP > 1 ? -STEP : STEP;
      residuals(at.with(place, value + step), column);
      for (let i = 0; i < count; i += 1) column[i] = ((column[i] ?? 0) - (now[i] ?? 0)) / step;
    });
    const dot = (a: Float64Array, b: Float64Array): number => {
      let sum = 0;
      for (let i = 0; i < count; i += 1) sum += (a[i] ?? 0) * (b[i] ?? 0);
      return sum;
    };
    const gradient = columns.map((column) => dot(column, now));
    if (!gradient.every(Number.isFinite)) break;
    const free = at.flatMap((value, place) => {
      const slope = gradient[place] ?? 0;
      return (value === 0 && slope > 0) || (value === 1 && slope < 0) ? [] : [place];
    });
    if (free.length === 0) break;
    const normal = free.map((a) => free.map((b) => dot(columns[a] ?? now, columns[b] ?? now)));
    let gained = 0;
    for (let tries = 0; tries < 12; tries += 1) {
      const damped = normal.map((row, i) =>
        row.map((value, j) => (i === j ? value * (1 + damping) + 1e-12 * least : value)),
      );
      const step = solve(
        damped,
        free.map((place) => -(gradient[place] ?? 0)),
      );
      if (step) {
        const moved = at.slice();
        free.forEach((place, i) => (moved[place] = clamp((at[place] ?? 0) + (step[i] ?? 0))));
        residuals(moved, next);
        const squaresThere = squares(next);
        if (squaresThere < least) {
          gained = (least - squaresThere) / Math.max(least, Number.MIN_VALUE);
          least = squaresThere;
          at = moved;
          [now, next] = [next, now];
          damping = Math.max(1e-9, damping / 5);
          break;
        }
      }
      damping *= 6;
    }
    if (gained < ENOUGH) break;
  }
  return { parameters: at, squares: least };
}
