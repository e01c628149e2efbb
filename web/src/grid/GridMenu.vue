<script setup lang="ts">
import { computed, ref } from 'vue';

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
  { action: 'explain', name: 'Show how it is calculated', key: 'Space' },
  { action: 'copy', name: 'Copy', key: 'Ctrl C' },
  { action: 'cut', name: 'Cut', key: 'Ctrl X', types: true },
  { action: 'paste', name: 'Paste', key: 'Ctrl V', types: true },
  { action: 'clear', name: 'Clear entered values', key: 'Delete', types: true },
  { action: 'fillDown', name: 'Fill down', key: 'Ctrl D', types: true },
  { action: 'fillRight', name: 'Fill right', key: 'Ctrl R', types: true },
  { action: 'find', name: 'Find a row', key: 'Ctrl F' },
  { action: 'csv', name: 'Save as CSV', key: '' },
  { action: 'xlsx', name: 'Save as workbook', key: '' },
];
const shown = computed(() =>
  ACTIONS.filter(
    ({ action, types }) =>
      (props.editable || types !== true) && !(props.untraced && action === 'explain'),
  ),
);
/** Its first entry has the focus, so that it is worked by keys too. */
const list = ref<{ focus(where: 'first'): void }>();
const target = computed<[number, number] | undefined>(() => props.at && [...props.at]);
</script>

<template>
  <v-menu
    :model-value="at !== undefined"
    :target="target"
    @update:model-value="(open) => !open && emit('close')"
    @after-enter="list?.focus('first')"
  >
    <v-list ref="list" role="menu" density="compact" aria-label="Actions for the selected cells">
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
