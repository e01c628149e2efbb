<script setup lang="ts">
import { monthText, type Span } from '@dravex/core';
import { WORDS } from '../format/words.ts';
import { usePlan } from '../plan/use-plan.ts';
import FileItem from './FileItem.vue';
import { useFrame } from './use-frame.ts';

/** Entries of a room's menu: the same table as a file, in full precision. */
const props = defineProps<{
  name: string;
  query: {
    readonly measure?: string;
    readonly measures?: readonly string[];
    readonly empty?: boolean | undefined;
    readonly order?: { readonly column: string; readonly descending: boolean } | undefined;
    readonly rows: readonly string[];
    readonly scope: readonly number[];
    readonly span: Span;
    readonly columns?: string;
    readonly grain?: string;
  };
  version?: number | undefined;
  /** The moment as of which the version is shown, if it is not now. */
  at?: string | undefined;
  /** What is compared with what. */
  sides?: Readonly<Record<string, string>> | undefined;
  /** Whether closed months have the forecast that was kept of them. */
  kept?: boolean;
}>();

const plan = usePlan();
const { books } = useFrame();
const addressAs = (format: 'csv' | 'xlsx'): string => {
  const { measure, measures, rows, scope, span, columns, grain, empty, order } = props.query;
  const parameters = new URLSearchParams({
    rows: rows.join(','),
    scope: scope.join(','),
    from: monthText(span.from),
    to: monthText(span.to),
  });
  if (measure !== undefined) parameters.set('measure', measure);
  if (measures !== undefined) parameters.set('measures', measures.join(','));
  if (empty) parameters.set('empty', 'yes');
  if (order) parameters.set('order', `${order.column}:${order.descending ? 'down' : 'up'}`);
  if (props.kept) parameters.set('closed', 'kept');
  if (books.value) parameters.set('origin', 'books');
  if (columns !== undefined) parameters.set('columns', columns);
  if (grain !== undefined) parameters.set('grain', grain);
  if (props.version !== undefined) parameters.set('version', String(props.version));
  if (props.at !== undefined) parameters.set('at', props.at);
  for (const [side, name] of Object.entries(props.sides ?? {})) parameters.set(side, name);
  return `/api${plan.path(`/${props.name}.${format}`)}?${parameters.toString()}`;
};
</script>

<template>
  <FileItem :title="WORDS.saveAsCsv" :address="addressAs('csv')" />
  <FileItem :title="WORDS.saveAsWorkbook" :address="addressAs('xlsx')" />
</template>
