<script setup lang="ts">
import { ref } from 'vue';

/** A button that opens the system's dialog for a file. */
defineProps<{
  label: string;
  /** What the file holds, for those who cannot see the place. */
  about: string;
  accept: string;
  disabled?: boolean;
  main?: boolean;
}>();
const emit = defineEmits<{ pick: [file: File] }>();
const input = ref<HTMLInputElement>();
function picked(): void {
  const field = input.value;
  const [file] = field?.files ?? [];
  // The same file can be chosen again.
  if (field) field.value = '';
  if (file) emit('pick', file);
}
</script>

<template>
  <input
    ref="input"
    type="file"
    class="hidden-but-read"
    tabindex="-1"
    :accept="accept"
    :aria-label="about"
    @change="picked"
  />
  <v-btn
    color="primary"
    :variant="main ? 'flat' : 'outlined'"
    :disabled="disabled"
    @click="input?.click()"
  >
    {{ label }}
  </v-btn>
</template>
