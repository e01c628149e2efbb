/** What in a document of the feed names the member of a dimension. */
import type { FeedField } from '@dravex/contract';
import type { AssignedMembers } from '../actuals/store.ts';
import type { FeedDocument } from './feed.ts';

/** What is taken where nobody has said: the field that a dimension's code or name sounds like. */
const SOUNDS: readonly (readonly [RegExp, FeedField])[] = [
  [/channel/i, 'channel'],
  [/product|item|article|sku/i, 'item'],
  [/group|segment/i, 'group'],
  [/region|area|territory/i, 'region'],
  [/customer|account/i, 'customer'],
];

/** The field that names the members of a dimension; `undefined` where nothing seems to. */
export function fieldFor(
  fields: Readonly<Record<string, FeedField>>,
  { code, name }: { readonly code: string; readonly name: string },
): FeedField | undefined {
  return fields[code] ?? SOUNDS.find(([words]) => words.test(code) || words.test(name))?.[1];
}

/** What a document says of a member: its code or name, or the member that its customer belongs to. */
export type Named = { readonly text: string } | { readonly id: number | undefined };

/** What names the member of a dimension in a line of a document. */
export function namedBy(
  field: FeedField | undefined,
  document: FeedDocument,
  item: string,
  customers: ReturnType<AssignedMembers['get']>,
): Named {
  if (field === undefined) return { text: '' };
  if (typeof field === 'object') return { text: field.member };
  if (field === 'item') return { text: item };
  if (field !== 'assigned') return { text: document[field] };
  const assigned = customers?.get(document.customer);
  return { id: assigned?.find(({ from }) => from <= document.date)?.member };
}
