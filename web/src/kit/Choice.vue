<script setup lang="ts" generic="T extends string | number">
import { mdiMenuDown } from '@mdi/js';

/** A chip that names what is in force and opens a short list to choose another. */
defineProps<{
  /** What is chosen, in words. */
  label: string;
  /** What the choice is about, for those who cannot see the place. */
  about: string;
  options: readonly { value: T; name: string }[];
  chosen?: T | undefined;
}>();
const emit = defineEmits<{ choose: [value: T] }>();
</script>

<template>
  <v-menu>
    <template #activator="{ props: activator }">
      <v-btn v-bind="activator" :append-icon="mdiMenuDown" :aria-label="`${about}: ${label}`">
        {{ label }}
      </v-btn>
    </template>
    <v-list role="menu" :aria-label="about">
      <v-list-item
        v-for="option in options"
        :key="option.value"
        role="menuitemradio"
        :aria-checked="option.value === chosen"
        :title="option.name"
        @click="emit('choose', option.value)"
      />
      <slot />
    </v-list>
  </v-menu>
</template>
