<script setup lang="ts">
import { useSaving } from '../writing/use-saving.ts';

/** An entry of a room's menu that saves a file; its address can be copied and sent. */
defineProps<{ title: string; address: string }>();
const save = useSaving();
</script>

<template>
  <v-list-item
    role="menuitem"
    :title="title"
    :href="address"
    @click.prevent="void save(title, address)"
  />
</template>
