<script setup lang="ts">
import { sessionOperations, type OwnSession } from '@dravex/contract';
import { ref } from 'vue';
import { whenInWords } from '../format/moments.ts';
import SheetTable from '../kit/SheetTable.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { call } from '../shell/client.ts';
import { useWriting } from '../writing/use-writing.ts';
import { browserInWords } from './browser-words.ts';

/** In which browsers one is signed in, and how to end that. */
const plan = usePlan();
const again = ref(0);
const sessions = useAnswer([again], () => call(sessionOperations.listSessions, {}));
const when = (moment: string): string => whenInWords(moment, plan.locale);
const { failure, write } = useWriting();
const end = (session: string, said: string) =>
  write(
    () => call(sessionOperations.endSession, { session }),
    () => {
      again.value += 1;
      plan.said = { text: said };
    },
  );
const endOne = ({ id, browser }: OwnSession) => end(id, `Signed out of ${browserInWords(browser)}`);
</script>

<template>
  <section aria-labelledby="sessions-title">
    <h2 id="sessions-title">Where I am signed in</h2>
    <p v-if="failure || sessions.failure.value" class="failure" role="alert">
      {{ failure || sessions.failure.value }}
    </p>
    <SheetTable about="Sessions">
      <thead>
        <tr>
          <th scope="col" class="words">Browser</th>
          <th scope="col" class="words">Signed in</th>
          <th scope="col" class="words">Last used</th>
          <th scope="col"><span class="hidden-but-read">Actions</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in sessions.data.value ?? []" :key="one.id">
          <td class="words">{{ browserInWords(one.browser) }}</td>
          <td class="words">{{ when(one.signedInAt) }}</td>
          <td class="words">{{ one.own ? 'this browser' : when(one.seenAt) }}</td>
          <td>
            <v-btn v-if="!one.own" variant="text" color="primary" @click="endOne(one)">
              Sign out
            </v-btn>
          </td>
        </tr>
      </tbody>
    </SheetTable>
    <v-btn
      v-if="(sessions.data.value ?? []).length > 1"
      color="primary"
      @click="end('others', 'Signed out everywhere else')"
    >
      Sign out everywhere else
    </v-btn>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 6px;
  justify-items: start;
}
</style>
