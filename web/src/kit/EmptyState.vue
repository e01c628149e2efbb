<script setup lang="ts">
/** Why there is nothing to see, and what to do about it. */
defineProps<{ heading: string }>();
</script>

<template>
  <div class="empty">
    <h2>{{ heading }}</h2>
    <slot />
  </div>
</template>
