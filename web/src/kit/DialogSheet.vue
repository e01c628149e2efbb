<script setup lang="ts">
import { ref, useId, watch } from 'vue';
import { rememberFocus } from './focus.ts';

/** A dialog: its name, what it holds, and its actions; the focus returns to where it was. */
const shown = defineModel<boolean>({ required: true });
defineProps<{ title: string; width?: number; location?: 'top' }>();
const id = useId();

let goBack: (() => void) | undefined;
watch(
  shown,
  (open) => {
    if (open) goBack = rememberFocus();
  },
  { immediate: true },
);
const sheet = ref<HTMLElement>();
/** What is typed goes into the first field; without one the sheet has the focus, and is read. */
function enter(): void {
  const first = sheet.value?.querySelector<HTMLElement>(
    '[autofocus], input:not([type="hidden"]), textarea',
  );
  (first ?? sheet.value)?.focus();
}
// It is drawn some time after it is asked for: later still where a menu closes at the same time.
watch(sheet, enter, { flush: 'post' });
/** Until it has come into sight, whatever it lies on may still have taken the focus. */
function entered(): void {
  if (!sheet.value?.contains(document.activeElement)) enter();
}
/** What has got the focus meanwhile keeps it; what is left behind in the dialog does not. */
function left(): void {
  const { activeElement, body } = document;
  const within = activeElement?.closest('.v-overlay')?.contains(sheet.value ?? null) ?? false;
  if (activeElement === null || activeElement === body || within) goBack?.();
}
</script>

<template>
  <v-dialog
    v-model="shown"
    :max-width="width ?? 480"
    :location="location"
    :aria-labelledby="id"
    @after-enter="entered"
    @after-leave="left"
  >
    <div ref="sheet" class="dialog-sheet" tabindex="-1">
      <h2 :id="id">{{ title }}</h2>
      <slot />
      <div v-if="$slots.actions" class="buttons"><slot name="actions" /></div>
    </div>
  </v-dialog>
</template>
