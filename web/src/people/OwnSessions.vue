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
import { TEXTS } from './texts.ts';

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
const endOne = ({ id, browser }: OwnSession) => end(id, TEXTS.signedOutOf(browserInWords(browser)));
</script>

<template>
  <section aria-labelledby="sessions-title">
    <h2 id="sessions-title">{{ TEXTS.whereIAmSignedIn }}</h2>
    <p v-if="failure || sessions.failure.value" class="failure" role="alert">
      {{ failure || sessions.failure.value }}
    </p>
    <SheetTable :about="TEXTS.sessions">
      <thead>
        <tr>
          <th scope="col" class="words">{{ TEXTS.browser }}</th>
          <th scope="col" class="words">{{ TEXTS.signedIn }}</th>
          <th scope="col" class="words">{{ TEXTS.lastUsed }}</th>
          <th scope="col">
            <span class="hidden-but-read">{{ TEXTS.actions }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in sessions.data.value ?? []" :key="one.id">
          <td class="words">{{ browserInWords(one.browser) }}</td>
          <td class="words">{{ when(one.signedInAt) }}</td>
          <td class="words">{{ one.own ? TEXTS.thisBrowser : when(one.seenAt) }}</td>
          <td>
            <v-btn v-if="!one.own" variant="text" color="primary" @click="endOne(one)">
              {{ TEXTS.signOut }}
            </v-btn>
          </td>
        </tr>
      </tbody>
    </SheetTable>
    <v-btn
      v-if="(sessions.data.value ?? []).length > 1"
      color="primary"
      @click="end('others', TEXTS.signedOutEverywhereElse)"
    >
      {{ TEXTS.signOutEverywhereElse }}
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
