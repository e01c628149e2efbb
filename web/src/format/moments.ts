/** A moment in the past, short: `24 Nov 10:42`. */
export function whenInWords(at: string, locale: string | undefined): string {
  const moment = new Date(at);
  const day = moment.toLocaleDateString(locale, { day: 'numeric', month: 'short' });
  return `${day} ${moment.toTimeString().slice(0, 5)}`;
}

/** A day in full: `24 November 2026`. */
export const dayInWords = (at: string, locale: string | undefined): string =>
  new Date(at).toLocaleDateString(locale, { day: 'numeric', month: 'long', year: 'numeric' });
