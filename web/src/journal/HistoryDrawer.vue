<script setup lang="ts">
import {
  journalOperations,
  type JournalChange,
  type JournalRecord,
  type JournalRoom,
} from '@dravex/contract';
import { computed, ref, watch } from 'vue';
import { useRoute } from 'vue-router';
import { DASH } from '../format/numbers.ts';
import { whenInWords } from '../format/moments.ts';
import { WORDS } from '../format/words.ts';
import Drawer from '../kit/Drawer.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';
import { TEXTS } from './texts.ts';
import { useHistory } from './use-history.ts';

/** What was changed in this room: who, when, what from, what to, why. */
const plan = usePlan();
const history = useHistory();
const route = useRoute();
const { minor, formats } = useFrame();

const ROOMS: Readonly<Record<string, JournalRoom>> = {
  actuals: 'actuals',
  drivers: 'drivers',
  forecast: 'forecast',
  targets: 'targets',
  budget: 'budget',
  comparison: 'budget',
  closing: 'closing',
};
const room = computed(() => ROOMS[String(route.name)]);
const [PAGE, MOST] = [40, 200];
const limit = ref(PAGE);
watch(room, () => (limit.value = PAGE));
const { data, failure } = useAnswer([room, limit, () => plan.tick, () => plan.savedAt], () =>
  plan.ask(journalOperations.readJournal, { room: room.value, limit: limit.value }),
);
const records = computed(() => data.value ?? []);

function shown(value: JournalChange['before'], { unit }: JournalChange): string {
  if (value === null) return DASH;
  if (typeof value === 'string') return value;
  if (unit === 'percent') return formats.value.show(value, 'percent');
  if (unit === 'minor') return formats.value.show(value / minor.value, 'price');
  return formats.value.show(value, unit === 'price' ? 'price' : 'units');
}

const why = ref('');
const reasonFor = ref(0);
const { failure: refused, write } = useWriting();
async function say({ id: journalId }: JournalRecord): Promise<void> {
  await write(
    () => plan.ask(journalOperations.sayWhy, { journalId }, { why: why.value }),
    () => {
      reasonFor.value = 0;
      why.value = '';
      plan.tick += 1;
    },
  );
}
const undo = ({ id: journalId }: JournalRecord) =>
  write(() => plan.ask(journalOperations.takeBack, { journalId }));
</script>

<template>
  <Drawer :heading="room ? TEXTS.history : TEXTS.historyOfAllRooms" @close="history.close()">
    <p v-if="failure || refused" class="failure" role="alert">{{ refused || failure }}</p>
    <p v-if="data && records.length === 0" class="quiet">{{ TEXTS.noChangesYet }}</p>
    <ol>
      <li v-for="record in records" :key="record.id" :class="{ gone: record.undone }">
        <p class="quiet">
          {{ record.by }}, {{ whenInWords(record.at, plan.locale)
          }}<template v-if="record.undone">{{ TEXTS.undone }}</template>
        </p>
        <p class="what">{{ record.what }}</p>
        <p v-if="record.why">“{{ record.why }}”</p>
        <component :is="record.count > 1 ? 'details' : 'div'" v-if="record.changes.length > 0">
          <summary v-if="record.count > 1">{{ TEXTS.changes(record.count) }}</summary>
          <p v-for="(change, index) in record.changes" :key="index" class="change">
            <span>{{ change.label }}</span>
            <span class="figures"
              >{{ shown(change.before, change) }} → {{ shown(change.after, change) }}</span
            >
          </p>
          <p v-if="record.count > record.changes.length" class="quiet">
            {{ TEXTS.andMore(record.count - record.changes.length) }}
          </p>
        </component>
        <form v-if="reasonFor === record.id" class="reason" @submit.prevent="say(record)">
          <v-text-field
            v-model="why"
            :aria-label="WORDS.reason"
            :placeholder="WORDS.reason"
            maxlength="500"
            autofocus
          />
          <v-btn color="primary" type="submit" :disabled="why.trim() === ''">{{
            WORDS.save
          }}</v-btn>
        </form>
        <p v-if="record.own && (record.undoable || !record.why)" class="acts">
          <v-btn v-if="record.undoable" variant="plain" @click="undo(record)">{{
            TEXTS.undo
          }}</v-btn>
          <v-btn
            v-if="!record.why && reasonFor !== record.id"
            variant="plain"
            @click="reasonFor = record.id"
          >
            {{ TEXTS.addReason }}
          </v-btn>
        </p>
      </li>
    </ol>
    <v-btn
      v-if="records.length >= limit && limit < MOST"
      variant="plain"
      @click="limit = Math.min(MOST, limit * 2)"
    >
      {{ TEXTS.showEarlierChanges }}
    </v-btn>
  </Drawer>
</template>

<style scoped>
li {
  overflow-wrap: anywhere;
}
.what {
  font-weight: 550;
}
.gone .what {
  text-decoration: line-through;
}
.change {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  color: var(--ink-quiet);
}
.change .figures {
  flex: none;
  max-width: 50%;
}
summary {
  cursor: pointer;
  color: var(--ink-quiet);
}
.acts {
  display: flex;
  gap: 14px;
  margin-top: 3px;
}
.reason {
  display: flex;
  gap: 6px;
  margin-top: 4px;
}
.reason .v-input {
  flex: 1;
}
</style>
