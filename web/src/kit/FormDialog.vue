<script setup lang="ts">
import { WORDS } from '../format/words.ts';
import DialogSheet from './DialogSheet.vue';

/** A form in a dialog: Enter sends it, Esc leaves it, and a refusal stands above its buttons. */
const shown = defineModel<boolean>({ required: true });
defineProps<{
  title: string;
  /** What the main button says: a verb. */
  action: string;
  busy?: boolean | undefined;
  failure?: string | undefined;
  /** Whether it cannot be sent yet. */
  disabled?: boolean | undefined;
  width?: number;
}>();
const emit = defineEmits<{ submit: [] }>();
</script>

<template>
  <DialogSheet v-model="shown" :title="title" :width="width ?? 480">
    <form novalidate @submit.prevent="emit('submit')">
      <slot />
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <div class="buttons">
        <v-btn type="submit" color="primary" variant="flat" :disabled="disabled" :loading="busy">
          {{ action }}
        </v-btn>
        <v-btn color="primary" @click="shown = false">{{ WORDS.cancel }}</v-btn>
        <slot name="more" />
      </div>
    </form>
  </DialogSheet>
</template>
