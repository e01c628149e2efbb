<script setup lang="ts">
import {
  dimensionOperations,
  type DimensionDetail,
  type MemberDetail,
  type MergeEffect,
} from '@dravex/contract';
import { computed, ref } from 'vue';
import { WORDS } from '../format/words.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { useWriting } from '../writing/use-writing.ts';
import { TEXTS } from './texts.ts';

/** One member: its names, its parent, when it is valid; merged into another one, or deleted. */
const props = defineProps<{
  dimension: DimensionDetail;
  member: MemberDetail;
  planner: boolean;
}>();
const emit = defineEmits<{ gone: []; done: [text: string] }>();
const plan = usePlan();
const at = computed(() => ({ dimension: props.dimension.code, memberId: props.member.id }));
const others = computed(() => props.dimension.members.filter(({ id }) => id !== props.member.id));
const parents = computed(() => [{ id: null, name: TEXTS.noneTopLevel }, ...others.value]);

const { field, submit, busy, failure } = useForm({
  of: () => String(props.member.id),
  fresh: () => {
    const { name, code, parent, validFrom, validTo, account, replaces } = props.member;
    return {
      name,
      code,
      parent,
      validFrom: validFrom ?? '',
      validTo: validTo ?? '',
      account: account ?? '',
      replaces,
    };
  },
  schema: dimensionOperations.changeMember.body,
  body: ({ validFrom, validTo, account, ...rest }) => ({
    ...rest,
    validFrom: validFrom || null,
    validTo: validTo || null,
    account: account.trim() || null,
  }),
  send: async (body) => {
    await plan.ask(dimensionOperations.changeMember, at.value, body);
    emit('done', TEXTS.isChanged(body.name ?? ''));
  },
});

const into = ref<number | null>(null);
const { data: effect, failure: refusal } = useAnswer([into], async () =>
  into.value === null
    ? undefined
    : plan.ask(dimensionOperations.previewMerge, { ...at.value, into: into.value }),
);
/** What moves, by count: a merge cannot be undone. */
function moves(found: MergeEffect): string {
  const parts = [
    [found.lines, TEXTS.salesLinesLower],
    [found.combinations, 'combinations'],
    [found.streams - found.streamsEnded, TEXTS.forecastLines],
    [found.assumptions, 'inputs'],
    [found.versionCells, TEXTS.cellsOfSavedVersions],
    [found.targets, 'targets'],
    [found.assignments, TEXTS.assignedCustomersLower],
  ] as const;
  const list = parts.filter(([count]) => count > 0).map(([count, name]) => `${count} ${name}`);
  const ended =
    found.streamsEnded > 0 ? TEXTS.forecastLinesEndBecauseHas(found.streamsEnded, found.into) : '';
  return TEXTS.wouldMoveToThisCannot(list.length, list.join(', '), found.into, ended);
}
const { busy: writing, failure: refused, write } = useWriting();
async function merge(found: MergeEffect): Promise<void> {
  await write(async () => {
    await plan.ask(dimensionOperations.mergeMember, at.value, { into: into.value ?? 0 });
    // The panel is gone as soon as its member is.
    emit('done', TEXTS.isMergedIntoSalesLines(found.from, found.into, found.lines));
    emit('gone');
  });
}
async function drop(): Promise<void> {
  const { name } = props.member;
  await write(async () => {
    await plan.ask(dimensionOperations.dropMember, at.value);
    emit('done', TEXTS.isDeleted(name));
    emit('gone');
  });
}
</script>

<template>
  <aside class="panel" :aria-label="TEXTS.memberOf(member.name)">
    <h2>{{ member.name }}</h2>
    <form class="form" novalidate @submit.prevent="submit">
      <v-text-field
        v-bind="field('name')"
        :label="WORDS.name"
        maxlength="120"
        :disabled="!planner"
      />
      <v-text-field
        v-bind="field('code')"
        :label="TEXTS.codeInFiles"
        maxlength="60"
        :disabled="!planner"
      />
      <v-autocomplete
        v-bind="field('parent')"
        :label="TEXTS.parent"
        :items="parents"
        item-value="id"
        :disabled="!planner"
      />
      <div class="two">
        <v-text-field
          v-bind="field('validFrom')"
          :label="TEXTS.validFrom"
          type="date"
          :disabled="!planner"
        />
        <v-text-field
          v-bind="field('validTo')"
          :label="TEXTS.validTo"
          type="date"
          :disabled="!planner"
        />
      </div>
      <v-text-field
        v-bind="field('account')"
        :label="TEXTS.ledgerAccountOptional"
        maxlength="60"
        :disabled="!planner"
      />
      <v-autocomplete
        v-bind="field('replaces')"
        :label="TEXTS.replacesOptional"
        clearable
        :items="others"
        item-value="id"
        :hint="TEXTS.inComparisonBothAreShown"
        :disabled="!planner"
      />
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <v-btn v-if="planner" color="primary" type="submit" :loading="busy">{{ WORDS.save }}</v-btn>
    </form>
    <template v-if="planner">
      <h2>{{ TEXTS.mergeIntoAnotherMember }}</h2>
      <v-autocomplete
        v-model="into"
        :aria-label="TEXTS.mergeInto"
        :placeholder="TEXTS.chooseAMember"
        width="260"
        clearable
        :items="others"
        item-value="id"
        :error-messages="refusal"
      />
      <template v-if="effect">
        <p>{{ moves(effect) }}</p>
        <v-btn color="primary" variant="flat" :loading="writing" @click="merge(effect)">
          {{ TEXTS.mergeIntoOf(effect.from, effect.into) }}
        </v-btn>
      </template>
      <template v-if="member.combinations === 0">
        <h2>{{ WORDS.delete }}</h2>
        <p class="quiet">{{ TEXTS.itHasNoSalesAnd }}</p>
        <v-btn color="primary" :loading="writing" @click="drop">{{ TEXTS.deleteMember }}</v-btn>
      </template>
      <p v-if="refused" class="failure" role="alert">{{ refused }}</p>
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
.form .v-btn {
  justify-self: start;
  margin-top: 6px;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
</style>
