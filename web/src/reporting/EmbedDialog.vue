<script setup lang="ts">
import type { MadeToken, ViewQuery, ViewWindow } from '@dravex/contract';
import { monthText } from '@dravex/core';
import { computed, ref } from 'vue';
import { spanInWords } from '../format/periods.ts';
import { useSession } from '../people/use-session.ts';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';

type Without<Query> = Query extends ViewQuery ? Omit<Query, 'kind' | 'window' | 'members'> : never;
/** Saves the table of a room, as it is set, under an address at which it stands in other pages. */
const props = defineProps<{
  /** What the room shows, without its window and scope, which the frame has. */
  query: Without<ViewQuery>;
  /** What is measured, to begin its name with: `Revenue`. */
  measured: string;
}>();
const plan = usePlan();
const session = useSession();
const { span, scope, scopeCodes, subject, preset, rowHeading, version } = useFrame();
const where = computed(() => {
  const against = props.query.of === 'comparison' ? `against ${version.value?.name ?? ''}` : '';
  return [against, scope.value.length > 0 ? `in ${subject.value}` : ''].join(' ').trim();
});
const planner = computed(() => session.roleIn(plan.workspaceId) === 'planner');

const shown = ref(false);
const name = ref('');
const kind = ref<ViewQuery['kind']>('table');
const moves = ref(true);
const busy = ref(false);
const failure = ref('');
const address = ref('');
const copied = ref(false);
function open(): void {
  name.value = [props.measured, `by ${rowHeading.value.toLowerCase()}`, where.value]
    .join(' ')
    .trim();
  moves.value = preset.value !== undefined;
  failure.value = '';
  address.value = '';
  copied.value = false;
  shown.value = true;
}
const WINDOWS = {
  'This year': 'this year',
  'To date': 'to date',
  'Next 12': 'next 12',
  'Last 12': 'last 12',
  All: 'all',
} as const;
const window = computed<ViewWindow>(() =>
  moves.value && preset.value
    ? WINDOWS[preset.value]
    : { from: monthText(span.value.from), to: monthText(span.value.to) },
);
async function save(): Promise<void> {
  busy.value = true;
  failure.value = '';
  try {
    const query = {
      ...props.query,
      kind: kind.value,
      window: window.value,
      members: scopeCodes.value,
    };
    const { token } = await plan.save(() =>
      request<MadeToken>('POST', plan.path('/views'), { name: name.value, query }),
    );
    address.value = `${globalThis.location.origin}/embed?token=${token}`;
  } catch (error) {
    failure.value = inWords(error);
  } finally {
    busy.value = false;
  }
}
async function copy(): Promise<void> {
  await navigator.clipboard.writeText(address.value);
  copied.value = true;
}
</script>

<template>
  <button v-if="planner" type="button" class="chip no-print" @click="open">
    Let it stand in another page
  </button>
  <v-dialog v-model="shown" max-width="460">
    <form class="dialog-sheet" aria-labelledby="stand-title" @submit.prevent="save">
      <h2 id="stand-title">Let this table stand in another page</h2>
      <p class="quiet">
        It shows the numbers as they are when somebody looks, to whoever has the address, from a
        frame of 400 by 300 on. It only reads, and can be withdrawn under Settings, Access.
      </p>
      <template v-if="!address">
        <label for="stand-name">Name</label>
        <input id="stand-name" v-model="name" required maxlength="120" autocomplete="off" />
        <label for="stand-kind">As</label>
        <select id="stand-kind" v-model="kind">
          <option value="table">table</option>
          <option value="chart">
            {{ query.of === 'comparison' ? 'chart of the actuals' : 'chart of the total' }}
          </option>
        </select>
        <label for="stand-window">Months</label>
        <select id="stand-window" v-model="moves">
          <option v-if="preset" :value="true">{{ preset }}, moving with the closed months</option>
          <option :value="false">{{ spanInWords(span) }}, always</option>
        </select>
        <p v-if="scope.length > 0" class="quiet">Only {{ subject }}.</p>
        <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
        <div class="buttons">
          <button class="primary" type="submit" :disabled="busy">Save it</button>
          <button class="plain" type="button" @click="shown = false">Leave</button>
        </div>
      </template>
      <template v-else>
        <p role="status">This is its address. It is not shown again:</p>
        <code data-address>{{ address }}</code>
        <div class="buttons">
          <button class="primary" type="button" @click="copy">
            {{ copied ? 'Copied' : 'Copy the address' }}
          </button>
          <a class="plain" :href="address" target="_blank" rel="noreferrer">Look at it</a>
          <button class="plain" type="button" @click="shown = false">Done</button>
        </div>
      </template>
    </form>
  </v-dialog>
</template>

<style scoped>
code {
  font-size: 11.5px;
  overflow-wrap: anywhere;
}
</style>
