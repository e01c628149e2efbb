<script setup lang="ts">
import { computed } from 'vue';
import { whenInWords } from '../format/moments.ts';
import { usePlan } from '../plan/use-plan.ts';
import DialogSheet from '../kit/DialogSheet.vue';
import { useWriting } from '../writing/use-writing.ts';
import SheetTable from '../kit/SheetTable.vue';
import { TEXTS } from './texts.ts';

/** Two people changed the same: the second sees both values and chooses. */
const plan = usePlan();
const { busy, failure, write } = useWriting();
const shown = computed({
  get: () => plan.clash !== undefined,
  set: (open) => {
    if (!open) plan.clash = undefined;
  },
});

async function insist(): Promise<void> {
  const { clash } = plan;
  plan.clash = undefined;
  await write(async () => clash?.insist());
  if (failure.value) plan.said = { text: failure.value };
}
</script>

<template>
  <DialogSheet v-model="shown" :title="TEXTS.changedBySomebodyElseIn" :width="560">
    <p>{{ TEXTS.nothingWasOverwrittenWhichValue }}</p>
    <SheetTable :about="TEXTS.bothValues">
      <thead>
        <tr>
          <th scope="col">{{ TEXTS.where }}</th>
          <th scope="col">{{ TEXTS.theirs }}</th>
          <th scope="col">{{ TEXTS.yours }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in plan.clash?.rows ?? []" :key="row.label">
          <td class="words">
            {{ row.label }}
            <span class="quiet">
              {{ row.by
              }}<template v-if="row.at">, {{ whenInWords(row.at, plan.locale) }}</template>
            </span>
          </td>
          <td>{{ row.theirs }}</td>
          <td>
            <b>{{ row.mine }}</b>
          </td>
        </tr>
      </tbody>
    </SheetTable>
    <template #actions>
      <v-btn color="primary" variant="flat" :disabled="busy" @click="shown = false">
        {{ TEXTS.keepTheirs }}
      </v-btn>
      <v-btn color="primary" :disabled="busy" @click="insist">{{ TEXTS.useMine }}</v-btn>
    </template>
  </DialogSheet>
</template>

<style scoped>
.words {
  white-space: normal !important;
}
.words .quiet {
  display: block;
  font-size: 11.5px;
}
</style>
