/** What sells and is not forecast, counted: a product in a channel is one. */
export function notForecastInWords(count: number): string {
  return count === 1
    ? '1 product in a channel sells without a forecast'
    : `${count} products in channels sell without a forecast`;
}
