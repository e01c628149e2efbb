<script setup lang="ts" generic="T extends string | number">
import { mdiMenuDown } from '@mdi/js';

/** A chip that names what is chosen and opens a short list in which any of it is turned on and off. */
defineProps<{
  /** What is chosen, in words. */
  label: string;
  /** What the choice is about, for those who cannot see the place. */
  about: string;
  options: readonly { value: T; name: string }[];
  chosen: readonly T[];
}>();
const emit = defineEmits<{ turn: [value: T] }>();
</script>

<template>
  <v-menu :close-on-content-click="false">
    <template #activator="{ props: activator }">
      <v-btn v-bind="activator" :append-icon="mdiMenuDown" :aria-label="`${about}: ${label}`">
        {{ label }}
      </v-btn>
    </template>
    <v-list role="menu" :aria-label="about">
      <v-list-item
        v-for="option in options"
        :key="option.value"
        role="menuitemcheckbox"
        :aria-checked="chosen.includes(option.value)"
        :title="option.name"
        @click="emit('turn', option.value)"
      />
    </v-list>
  </v-menu>
</template>
