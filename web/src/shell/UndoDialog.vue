<script setup lang="ts">
import { computed } from 'vue';
import { whenInWords } from '../format/moments.ts';
import { WORDS } from '../format/words.ts';
import { usePlan } from '../plan/use-plan.ts';
import DialogSheet from '../kit/DialogSheet.vue';
import { ROOMS } from './rooms.ts';
import { TEXTS } from './texts.ts';

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
  <DialogSheet v-model="shown" :title="again ? TEXTS.redoThisChange : TEXTS.undoThisChange">
    <p v-if="plan.asking">
      {{
        TEXTS.inItWasMadeIn(
          plan.asking.record.what,
          where,
          whenInWords(plan.asking.record.at, plan.locale),
        )
      }}
    </p>
    <template #actions>
      <v-btn color="primary" variant="flat" autofocus @click="plan.goOn()">
        {{ again ? TEXTS.redo : TEXTS.undo }}
      </v-btn>
      <v-btn color="primary" @click="shown = false">{{ WORDS.cancel }}</v-btn>
    </template>
  </DialogSheet>
</template>
