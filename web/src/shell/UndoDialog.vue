<script setup lang="ts">
import { computed } from 'vue';
import { whenInWords } from '../format/moments.ts';
import { usePlan } from '../plan/use-plan.ts';
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
  <v-dialog v-model="shown" max-width="480">
    <div class="dialog-sheet" role="document" aria-labelledby="undo-title">
      <h2 id="undo-title">{{ again ? 'Do this again?' : 'Take this back?' }}</h2>
      <p v-if="plan.asking">
        “{{ plan.asking.record.what }}”, in {{ where }},
        {{ whenInWords(plan.asking.record.at, plan.workspace?.locale) }}. It was not done here just
        now, so it is not in sight.
      </p>
      <div class="buttons">
        <v-btn variant="flat" color="primary" autofocus @click="plan.goOn()">
          {{ again ? 'Do it again' : 'Take it back' }}
        </v-btn>
        <v-btn variant="outlined" @click="shown = false">Leave it</v-btn>
      </div>
    </div>
  </v-dialog>
</template>
