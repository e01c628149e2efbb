/** Tables that are too wide for a page, cut into several beside each other's names. */

/** So many columns of numbers go onto one page beside the names: a year and its total. */
export const ON_A_PAGE = 13;

/** A page's columns, by their places among all. */
export interface Page {
  readonly places: readonly number[];
  /** The first and the last of the columns that are not on every page, counted from one. */
  readonly from: number;
  readonly to: number;
}

/**
 * The columns page by page: what stays beside the names, the totals, is on every page; all others
 * are on exactly one, in their order.
 */
export function pagesOf(
  columns: readonly { readonly total?: boolean }[],
  most = ON_A_PAGE,
): Page[] {
  const places = columns.map((_, place) => place);
  const always = places.filter((place) => columns[place]?.total === true);
  const others = places.filter((place) => columns[place]?.total !== true);
  const each = Math.max(1, most - always.length);
  const pages: Page[] = [];
  for (let start = 0; start < Math.max(others.length, 1); start += each) {
    const own = others.slice(start, start + each);
    pages.push({ places: [...always, ...own], from: start + 1, to: start + own.length });
  }
  return pages;
}
