<script setup lang="ts">
import { nextTick, ref, useId, watch } from 'vue';

/** A dialog: its name, what it holds, and its actions; the focus returns to where it was. */
const shown = defineModel<boolean>({ required: true });
defineProps<{ title: string; width?: number; location?: 'top' }>();
const id = useId();

let before: HTMLElement | undefined;
const sheet = ref<HTMLElement>();
watch(
  shown,
  async (open) => {
    if (!open) return;
    before = document.activeElement instanceof HTMLElement ? document.activeElement : undefined;
    await nextTick();
    // The first field has the focus; without one the sheet itself, so that its name is read.
    const first = sheet.value?.querySelector<HTMLElement>(
      '[autofocus], input:not([type="hidden"]), textarea',
    );
    (first ?? sheet.value)?.focus();
  },
  { immediate: true },
);
/** What has got the focus meanwhile keeps it; what is left behind in the dialog does not. */
function goBack(): void {
  const { activeElement, body } = document;
  const left = activeElement?.closest('.v-overlay')?.contains(sheet.value ?? null) ?? false;
  const lost = activeElement === null || activeElement === body || left;
  if (lost && before?.isConnected) before.focus({ preventScroll: true });
}
</script>

<template>
  <v-dialog
    v-model="shown"
    :max-width="width ?? 480"
    :location="location"
    :aria-labelledby="id"
    @after-leave="goBack"
  >
    <div ref="sheet" class="dialog-sheet" tabindex="-1">
      <h2 :id="id">{{ title }}</h2>
      <slot />
      <div v-if="$slots.actions" class="buttons"><slot name="actions" /></div>
    </div>
  </v-dialog>
</template>
