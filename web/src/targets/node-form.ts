import type { NewTargetNode, TargetNode, TargetNodeChange } from '@dravex/contract';
import type { Formats } from '../format/numbers.ts';
import { readPart, type TargetSize } from './read-part.ts';

/** A node as it stands in its form. */
export interface NodeForm {
  kind: 'area' | 'person';
  /** What it lies below; of a new node, and at the top, nothing is chosen. */
  parent: number | null;
  name: string;
  seller: string;
  account: string;
  manager: string;
  scope: number[];
  from: string;
  until: string;
  /** Full capacity of a month, in the objective's measure. */
  full: string;
  /** Percents of full capacity by month: `25, 50, 75`. */
  ramp: string;
  /** Percent. */
  cushion: string;
  /** An amount, or a percent of the target above; of a node that is there nothing. */
  part: string;
}

const said = (text: string): string | null => (text.trim() === '' ? null : text.trim());
/** What cannot be read is no number; the schema says so at its field. */
const number = (text: string, formats: Formats): number => formats.read(text, false) ?? Number.NaN;

/** The form of a node, or of a new one below another. */
export function formOf(
  node: TargetNode | undefined,
  below: TargetNode | undefined,
  formats: Formats,
  { wholes }: TargetSize,
): NodeForm {
  const plain = (value: number): string => formats.typed(value, false);
  return {
    kind: node?.kind === 'person' || (!node && below?.kind === 'area') ? 'person' : 'area',
    parent: node?.parent ?? null,
    name: node?.name ?? '',
    seller: node?.seller ?? '',
    account: node?.account ?? '',
    manager: node?.manager ?? '',
    scope: [...(node?.scope ?? [])],
    from: node?.from ?? '',
    until: node?.until ?? '',
    full: node === undefined || node.full === null ? '' : plain(node.full / wholes),
    ramp: (node?.ramp ?? []).map((share) => plain(Number((share * 100).toFixed(6)))).join('; '),
    cushion: node && node.cushion > 0 ? plain(node.cushion) : '',
    part: '',
  };
}

/** What a form says of a node, in the contract's shape. */
export function nodeOf(
  form: NodeForm,
  formats: Formats,
  { wholes }: TargetSize,
): Required<
  Pick<
    TargetNodeChange,
    | 'name'
    | 'scope'
    | 'seller'
    | 'account'
    | 'manager'
    | 'from'
    | 'until'
    | 'ramp'
    | 'full'
    | 'cushion'
  >
> {
  const person = form.kind === 'person';
  const ramp = form.ramp.split(/[;\s]+/).filter((part) => part !== '');
  return {
    name: form.name,
    scope: [...form.scope],
    seller: person ? said(form.seller) : null,
    account: said(form.account),
    manager: person ? null : said(form.manager),
    from: person ? said(form.from) : null,
    until: person ? said(form.until) : null,
    ramp: person
      ? ramp.map((share) => Number((number(share.replace(/%$/, ''), formats) / 100).toFixed(8)))
      : [],
    full:
      person && form.full.trim() !== '' ? Math.round(number(form.full, formats) * wholes) : null,
    cushion: form.cushion.trim() === '' ? 0 : number(form.cushion.replace(/%$/, ''), formats),
  };
}

/** The same as a new node, with its part. */
export function newNodeOf(
  form: NodeForm,
  parent: number,
  formats: Formats,
  size: TargetSize,
): NewTargetNode {
  const read = readPart(form.part, formats, size.wholes);
  return {
    parent,
    kind: form.kind,
    ...nodeOf(form, formats, size),
    // What cannot be read is no part; the field says why.
    part: 'part' in read ? read.part : { kind: 'amount', amount: Number.NaN },
  };
}

/** Of what a form says, what differs from the node that is there. */
export function changesOf(
  form: NodeForm,
  node: TargetNode,
  formats: Formats,
  size: TargetSize,
): TargetNodeChange {
  const next = nodeOf(form, formats, size);
  const same = (key: keyof typeof next): boolean =>
    JSON.stringify(next[key]) === JSON.stringify(node[key]);
  const changes = Object.fromEntries(
    Object.entries(next).filter(([key]) => !same(key as keyof typeof next)),
  ) as TargetNodeChange;
  return form.parent === null || form.parent === node.parent
    ? changes
    : { ...changes, parent: form.parent };
}

/** What a node can be moved below: whatever is not itself or below it. */
export function placesFor(node: TargetNode, nodes: readonly TargetNode[]): TargetNode[] {
  const below = new Set([node.id]);
  // Those above stand before those below.
  for (const { id, parent } of nodes) if (parent !== null && below.has(parent)) below.add(id);
  return nodes.filter(({ id }) => !below.has(id));
}
