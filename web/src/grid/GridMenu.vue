<script setup lang="ts">
import { computed, ref } from 'vue';
import { WORDS } from '../format/words.ts';
import { TEXTS } from './texts.ts';

/** What can be done with the selected cells: the menu of the right button, with the keys for it. */
export type GridAction =
  | 'copy'
  | 'cut'
  | 'paste'
  | 'clear'
  | 'fillDown'
  | 'fillRight'
  | 'explain'
  | 'find'
  | 'csv'
  | 'xlsx';

/** Something that can be done with a row. */
export interface RowAction {
  readonly name: string;
  readonly act: () => void;
}

const props = defineProps<{
  /** Where the pointer is; undefined while it is closed. */
  at: readonly [x: number, y: number] | undefined;
  editable: boolean;
  untraced: boolean;
  /** What can be done with the row besides. */
  more?: readonly RowAction[] | undefined;
}>();
const emit = defineEmits<{ close: []; choose: [action: GridAction] }>();

const ACTIONS: readonly {
  readonly action: GridAction;
  readonly name: string;
  readonly key: string;
  readonly types?: boolean;
}[] = [
  { action: 'explain', name: TEXTS.showHowItIsCalculated, key: 'Space' },
  { action: 'copy', name: WORDS.copy, key: 'Ctrl C' },
  { action: 'cut', name: TEXTS.cut, key: 'Ctrl X', types: true },
  { action: 'paste', name: TEXTS.paste, key: 'Ctrl V', types: true },
  { action: 'clear', name: TEXTS.clearEnteredValues, key: 'Delete', types: true },
  { action: 'fillDown', name: TEXTS.fillDown, key: 'Ctrl D', types: true },
  { action: 'fillRight', name: TEXTS.fillRight, key: 'Ctrl R', types: true },
  { action: 'find', name: TEXTS.findARow, key: 'Ctrl F' },
  { action: 'csv', name: WORDS.saveAsCsv, key: '' },
  { action: 'xlsx', name: WORDS.saveAsWorkbook, key: '' },
];
const shown = computed(() =>
  ACTIONS.filter(
    ({ action, types }) =>
      (props.editable || types !== true) && !(props.untraced && action === 'explain'),
  ),
);
const list = ref<{ focus(where: 'first'): void }>();
/** Its first entry has the focus, so that it is worked by keys too; unless a key was quicker. */
function takeFocus(): void {
  if (!document.activeElement?.closest('[role="menu"]')) list.value?.focus('first');
}
const target = computed<[number, number] | undefined>(() => props.at && [...props.at]);
</script>

<template>
  <v-menu
    :model-value="at !== undefined"
    :target="target"
    @update:model-value="(open) => !open && emit('close')"
    @after-enter="takeFocus"
  >
    <v-list
      ref="list"
      role="menu"
      data-takes-focus
      density="compact"
      :aria-label="TEXTS.actionsForSelectedCells"
    >
      <v-list-item
        v-for="{ action, name, key } in shown"
        :key="action"
        role="menuitem"
        class="action"
        @click="emit('choose', action)"
      >
        {{ name }}
        <template #append>
          <span class="key">{{ key }}</span>
        </template>
      </v-list-item>
      <v-divider v-if="more?.length" />
      <v-list-item
        v-for="{ name, act } in more"
        :key="name"
        role="menuitem"
        class="action"
        @click="act"
      >
        {{ name }}
      </v-list-item>
    </v-list>
  </v-menu>
</template>

<style scoped>
.action {
  min-height: 30px !important;
  font-size: 13px;
}
.key {
  margin-left: 24px;
  font-size: 11px;
  color: var(--ink-quiet);
}
</style>
