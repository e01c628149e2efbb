<script setup lang="ts">
import { computed } from 'vue';
import { whenInWords } from '../format/moments.ts';
import { usePlan } from '../plan/use-plan.ts';
import DialogSheet from '../kit/DialogSheet.vue';
import { ROOMS } from './rooms.ts';

/** Undo would reach what was done in another room or before this sitting: it asks, and says what. */
const plan = usePlan();
const shown = computed({
  get: () => plan.asking !== undefined,
  set: (open) => {
    if (!open) plan.asking = undefined;
  },
});
const where = computed(() => {
  const room = plan.asking?.record.room ?? '';
  const name = ROOMS.find(({ key }) => key === room)?.name ?? room;
  return name.charAt(0).toUpperCase() + name.slice(1);
});
const again = computed(() => plan.asking?.which === 'redo');
</script>

<template>
  <DialogSheet v-model="shown" :title="again ? 'Redo this change?' : 'Undo this change?'">
    <p v-if="plan.asking">
      “{{ plan.asking.record.what }}”, in {{ where }},
      {{ whenInWords(plan.asking.record.at, plan.locale) }}. It was made in another room or before
      you signed in, so you cannot see it here.
    </p>
    <template #actions>
      <v-btn color="primary" variant="flat" autofocus @click="plan.goOn()">
        {{ again ? 'Redo' : 'Undo' }}
      </v-btn>
      <v-btn color="primary" @click="shown = false">Cancel</v-btn>
    </template>
  </DialogSheet>
</template>
