<script setup lang="ts" generic="T extends string | number">
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
  <v-menu location="bottom start" :offset="4">
    <template #activator="{ props: activator }">
      <button v-bind="activator" type="button" class="chip" :aria-label="`${about}: ${label}`">
        {{ label }} <span class="caret" aria-hidden="true">▾</span>
      </button>
    </template>
    <div class="menu-sheet" role="menu">
      <button
        v-for="option in options"
        :key="option.value"
        type="button"
        class="item"
        role="menuitemradio"
        :aria-checked="option.value === chosen"
        @click="emit('choose', option.value)"
      >
        <span class="mark">{{ option.value === chosen ? '•' : '' }}</span>{{ option.name }}
      </button>
      <slot />
    </div>
  </v-menu>
</template>

<style scoped>
.mark {
  width: 8px;
  color: var(--ember);
}
.caret {
  color: var(--ink-quiet);
  font-size: 9px;
}
</style>
