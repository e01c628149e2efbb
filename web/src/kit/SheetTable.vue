<script setup lang="ts">
/** A table of rows that are read, not typed into: hairlines, headings that stay, numbers right. */
defineProps<{
  /** What it lists, for those who cannot see the place. */
  about?: string;
}>();
</script>

<template>
  <v-table class="sheet-table">
    <caption v-if="about" class="hidden-but-read">
      {{
        about
      }}
    </caption>
    <slot />
  </v-table>
</template>
