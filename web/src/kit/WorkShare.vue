<script setup lang="ts">
/** How far something is that takes a while: a bar and a figure. */
defineProps<{ name: string; /** From 0 to 1. */ share: number }>();
</script>

<template>
  <v-progress-linear class="bar" :model-value="share * 100" :aria-label="name" />
  <span class="figures">{{ Math.round(share * 100) }} %</span>
</template>

<style scoped>
.bar {
  width: 120px;
}
</style>
