/** What is sold, or was lately, and is not forecast. */
interface NotForecast {
  readonly discontinued: boolean;
}

/** Those that still sell. */
export const stillSold = <T extends NotForecast>(lines: readonly T[]): T[] =>
  lines.filter(({ discontinued }) => !discontinued);

/** What sells and is not forecast, counted: a product in a channel is one. */
export function notForecastInWords(lines: readonly NotForecast[]): string {
  const sold = stillSold(lines).length;
  const ended = lines.length - sold;
  const count = (many: number): string =>
    many === 1 ? '1 product in a channel' : `${many} products in channels`;
  if (sold === 0)
    return `${count(ended)} without a forecast ${ended === 1 ? 'seems' : 'seem'} discontinued`;
  const sells = `${count(sold)} ${sold === 1 ? 'sells' : 'sell'} without a forecast`;
  return ended === 0
    ? sells
    : `${sells}, ${ended} more ${ended === 1 ? 'seems' : 'seem'} discontinued`;
}
