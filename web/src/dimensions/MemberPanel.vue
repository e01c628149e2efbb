<script setup lang="ts">
import type { DimensionDetail, MemberDetail, MergeEffect } from '@dravex/contract';
import { computed, ref, shallowRef, watch } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';
import { useDraft } from '../shell/use-draft.ts';

/** One member: its names, where it lies, when it is valid; merged into another one, or taken away. */
const props = defineProps<{
  dimension: DimensionDetail;
  member: MemberDetail;
  planner: boolean;
  busy: boolean;
  saving: (work: () => Promise<string>) => Promise<boolean>;
}>();
const emit = defineEmits<{ gone: [] }>();
const plan = usePlan();
const path = computed(() =>
  plan.path(`/dimensions/${props.dimension.code}/members/${props.member.id}`),
);

const { form } = useDraft(() => String(props.member.id), fromMember);
function fromMember() {
  const { name, code, parent, validFrom, validTo, account } = props.member;
  return {
    name,
    code,
    parent: parent === null ? '' : String(parent),
    validFrom: validFrom ?? '',
    validTo: validTo ?? '',
    account: account ?? '',
  };
}
async function save(): Promise<void> {
  const { name, code, parent, validFrom, validTo, account } = form.value;
  await props.saving(async () => {
    await request('PATCH', path.value, {
      name,
      code,
      parent: parent === '' ? null : Number(parent),
      validFrom: validFrom || null,
      validTo: validTo || null,
      account: account.trim() || null,
    });
    return `${name} is changed.`;
  });
}

const others = computed(() => props.dimension.members.filter(({ id }) => id !== props.member.id));
const into = ref('');
const effect = shallowRef<MergeEffect>();
const refusal = ref('');
watch(into, async (id) => {
  effect.value = undefined;
  refusal.value = '';
  if (id === '') return;
  try {
    effect.value = await request<MergeEffect>('GET', `${path.value}/merge?into=${id}`);
  } catch (error) {
    refusal.value = inWords(error);
  }
});
/** What moves, by count: a merge cannot be taken back. */
const moves = computed(() => {
  const found = effect.value;
  if (!found) return '';
  const parts = [
    [found.lines, 'sales lines'],
    [found.combinations, 'combinations'],
    [found.streams - found.streamsEnded, 'streams'],
    [found.assumptions, 'assumptions'],
    [found.versionCells, 'cells of kept versions'],
    [found.targets, 'targets'],
    [found.assignments, 'assigned customers'],
  ] as const;
  const list = parts.filter(([count]) => count > 0).map(([count, name]) => `${count} ${name}`);
  const ended =
    found.streamsEnded > 0
      ? ` ${found.streamsEnded} streams end, because ${found.into} has one in the same place.`
      : '';
  return `${list.length > 0 ? list.join(', ') : 'Nothing'} would move to ${found.into}.${ended} This cannot be taken back.`;
});
async function merge(): Promise<void> {
  const found = effect.value;
  if (!found) return;
  const merged = await props.saving(async () => {
    await request('POST', `${path.value}/merge`, { into: Number(into.value) });
    return `${found.from} is ${found.into} now; ${found.lines} sales lines moved.`;
  });
  if (merged) emit('gone');
}
async function drop(): Promise<void> {
  const { name } = props.member;
  const dropped = await props.saving(async () => {
    await request('DELETE', path.value);
    return `${name} is gone.`;
  });
  if (dropped) emit('gone');
}
</script>

<template>
  <aside class="panel" :aria-label="`Member ${member.name}`">
    <h2>{{ member.name }}</h2>
    <form class="form" @submit.prevent="save">
      <label for="member-name">Name</label>
      <input id="member-name" v-model="form.name" required maxlength="120" :disabled="!planner" />
      <label for="member-code">Code, as files have it</label>
      <input id="member-code" v-model="form.code" required maxlength="60" :disabled="!planner" />
      <label for="member-parent">Lies below</label>
      <select id="member-parent" v-model="form.parent" :disabled="!planner">
        <option value="">nothing, it is at the top</option>
        <option v-for="other in others" :key="other.id" :value="String(other.id)">
          {{ other.name }}
        </option>
      </select>
      <span class="two">
        <label>
          Valid from
          <input v-model="form.validFrom" type="date" :disabled="!planner" />
        </label>
        <label>
          Valid to
          <input v-model="form.validTo" type="date" :disabled="!planner" />
        </label>
      </span>
      <label for="member-account">Ledger account, if its sales have one</label>
      <input id="member-account" v-model="form.account" maxlength="60" :disabled="!planner" />
      <button v-if="planner" class="plain" type="submit" :disabled="busy">Save the changes</button>
    </form>
    <template v-if="planner">
      <h2>Merge it into another one</h2>
      <select v-model="into" aria-label="Merge into">
        <option value="">choose …</option>
        <option v-for="other in others" :key="other.id" :value="String(other.id)">
          {{ other.name }}
        </option>
      </select>
      <p v-if="refusal" class="failure" role="alert">{{ refusal }}</p>
      <template v-if="effect">
        <p>{{ moves }}</p>
        <button type="button" class="primary" :disabled="busy" @click="merge">
          Merge {{ effect.from }} into {{ effect.into }}
        </button>
      </template>
      <template v-if="member.combinations === 0">
        <h2>Nothing names it</h2>
        <button type="button" class="plain" :disabled="busy" @click="drop">Take it away</button>
      </template>
    </template>
  </aside>
</template>

<style scoped>
.panel {
  display: flex;
  flex-direction: column;
  gap: 8px;
  overflow: auto;
  padding-left: 20px;
  border-left: 1px solid var(--line);
  align-items: start;
}
.form {
  display: grid;
  gap: 4px;
  width: 100%;
  max-width: 360px;
}
.form button {
  justify-self: start;
  margin-top: 6px;
}
.two {
  display: flex;
  gap: 12px;
}
.two label {
  display: grid;
  gap: 3px;
}
</style>
