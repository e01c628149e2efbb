<script setup lang="ts">
import { computed, ref } from 'vue';
import { whenInWords } from '../format/moments.ts';
import { usePlan } from '../plan/use-plan.ts';
import { inWords } from './api.ts';

/** Two people changed the same: the second sees both values and chooses. */
const plan = usePlan();
const failure = ref('');
const busy = ref(false);
const shown = computed({
  get: () => plan.clash !== undefined,
  set: (open) => {
    if (!open) plan.clash = undefined;
  },
});

async function insist(): Promise<void> {
  const { clash } = plan;
  busy.value = true;
  failure.value = '';
  try {
    plan.clash = undefined;
    await clash?.insist();
  } catch (error) {
    failure.value = inWords(error);
    plan.said = { text: inWords(error) };
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <v-dialog v-model="shown" max-width="560">
    <div class="dialog-sheet" role="document" aria-labelledby="clash-title">
      <h2 id="clash-title">Somebody else was faster</h2>
      <p>Nothing was overwritten. Which value shall stand?</p>
      <table class="sheet-table">
        <thead>
          <tr>
            <th scope="col">Where</th>
            <th scope="col">Theirs</th>
            <th scope="col">Yours</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in plan.clash?.rows ?? []" :key="row.label">
            <td class="words">
              {{ row.label }}
              <span class="quiet">
                {{ row.by
                }}<template v-if="row.at"
                  >, {{ whenInWords(row.at, plan.workspace?.locale) }}</template
                >
              </span>
            </td>
            <td>{{ row.theirs }}</td>
            <td>
              <b>{{ row.mine }}</b>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <div class="buttons">
        <button class="primary" type="button" :disabled="busy" @click="shown = false">
          Keep theirs
        </button>
        <button class="plain" type="button" :disabled="busy" @click="insist">Take mine</button>
      </div>
    </div>
  </v-dialog>
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
