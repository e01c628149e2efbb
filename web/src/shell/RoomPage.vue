<script setup lang="ts">
import { mdiDotsVertical } from '@mdi/js';
import { provide, ref, shallowRef } from 'vue';
import { WORDS } from '../format/words.ts';
import { SHOWN_TABLE, type SaveShown } from '../grid/grid-file.ts';
import { useRights } from '../people/use-planner.ts';
import { useHistory } from '../journal/use-history.ts';
import { useHeadingFocus } from './page-focus.ts';
import ScopeBar from './ScopeBar.vue';
import { TEXTS } from './texts.ts';
import type { Shown } from './use-frame.ts';

/**
 * The page of a room: what is shown above, what was found as its heading, what can be done at the
 * right of it, and everything else in one menu at the far right.
 */
defineProps<{
  heading: string;
  /** Measure, unit, period, scope, version and day in one quiet line. */
  state?: string | undefined;
  /** What went wrong in the whole room. */
  failure?: string | undefined;
  /** Which of the shared settings the room uses; without it, it has none. */
  shows?: readonly Shown[];
  /** What is shown has a scope of its own, so that the filter does not apply. */
  ownScope?: boolean;
}>();
const history = useHistory();
const { readsAll } = useRights();
const table = shallowRef<SaveShown>();
provide(SHOWN_TABLE, table);
const title = ref<HTMLElement>();
useHeadingFocus(title);
const print = (): void => window.print();
</script>

<template>
  <section class="room">
    <ScopeBar v-if="shows" :shows="shows" :own-scope="ownScope"><slot name="shown" /></ScopeBar>
    <slot name="above" />
    <header class="room-head">
      <div class="found">
        <h1 ref="title" tabindex="-1">{{ heading }}</h1>
        <p v-if="state" class="state">{{ state }}</p>
      </div>
      <div class="controls no-print">
        <slot name="actions" />
        <v-menu location="bottom end">
          <template #activator="{ props: activator }">
            <v-btn
              v-bind="activator"
              variant="text"
              :icon="mdiDotsVertical"
              :aria-label="TEXTS.moreActions"
            />
          </template>
          <v-list role="menu" :aria-label="TEXTS.moreActions">
            <template v-if="table">
              <v-list-item role="menuitem" :title="WORDS.saveAsCsv" @click="table('csv')" />
              <v-list-item role="menuitem" :title="WORDS.saveAsWorkbook" @click="table('xlsx')" />
            </template>
            <slot name="menu" />
            <v-list-item role="menuitem" :title="TEXTS.print" @click="print" />
            <v-list-item
              v-if="readsAll"
              role="menuitem"
              :title="TEXTS.historyOfChanges"
              @click="history.toggle()"
            />
          </v-list>
        </v-menu>
      </div>
    </header>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <slot />
  </section>
</template>

<style scoped>
.room-head {
  display: flex;
  gap: 16px;
  align-items: flex-start;
}
.found {
  flex: 1;
  min-width: 0;
}
h1:focus {
  outline: none;
}
</style>
