<script setup lang="ts">
import { forecastOperations } from '@dravex/contract';
import { monthText, type Dimension } from '@dravex/core';
import { computed, watch } from 'vue';
import { codeFrom } from '../actuals/code-from.ts';
import { shortMonth } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** A new product, or a member of another dimension, that is forecast like one there is. */
const shown = defineModel<boolean>({ required: true });
const emit = defineEmits<{ made: [scope: number[]] }>();
const plan = usePlan();
const { formats, calendar, scope } = useFrame();

const dimensions = computed<readonly Dimension[]>(() => plan.workspace?.plan.dimensions ?? []);
/** Where there is most to choose from, there is most that is new. */
const usual = computed(() =>
  [...dimensions.value].sort((a, b) => b.members.length - a.members.length).at(0),
);
const firstOpen = computed(() => monthText(plan.closedThrough + 1));

const { form, field, begin, dialog } = useForm({
  fresh: () => {
    const dimension = usual.value?.code ?? '';
    const leaves = usual.value ? plan.tree.leavesOf(usual.value) : [];
    return {
      dimension,
      like: leaves.find(({ id }) => scope.value.includes(id))?.code ?? '',
      name: '',
      scale: '100',
      from: firstOpen.value,
      price: '',
    };
  },
  schema: forecastOperations.createLike.body,
  body: ({ dimension, like, name, scale, from, price }) => ({
    dimension,
    like,
    name,
    code: codeFrom(name),
    scale: formats.value.read(scale, true) ?? Number.NaN,
    from: from === '' || from === firstOpen.value ? null : from,
    listPrice: price.trim() === '' ? null : (formats.value.read(price, false) ?? Number.NaN),
  }),
  send: async (body) => {
    const { member, streams } = await plan.ask(forecastOperations.createLike, {}, body);
    const lines = TEXTS.forecastLinesOf(streams);
    plan.said = { text: TEXTS.addedWith(body.name, lines), undo: 'forecast' };
    // The address names the new member, so it has to be known here first.
    await plan.catchUp();
    shown.value = false;
    emit('made', [member]);
  },
});
watch(shown, (open) => open && begin());

const dimension = computed(() =>
  dimensions.value.find(({ code }) => code === form.value.dimension),
);
const leaves = computed(() => (dimension.value ? plan.tree.leavesOf(dimension.value) : []));
watch(
  () => form.value.dimension,
  () => {
    if (!leaves.value.some(({ code }) => code === form.value.like)) form.value.like = '';
  },
);
const like = computed(() => leaves.value.find(({ code }) => code === form.value.like));
/** What it would bring, before it is made. */
const preview = useAnswer(
  [() => JSON.stringify([like.value?.id, form.value.scale, form.value.from]), () => plan.tick],
  async () => {
    const scale = formats.value.read(form.value.scale, true);
    if (!like.value || scale === undefined) return undefined;
    return plan.compute().likeAnother({
      like: like.value.id,
      member: -1,
      scale,
      from: form.value.from === '' ? null : form.value.from,
      listPrice: null,
    });
  },
);
const inWords = computed(() => {
  const made = preview.data.value;
  if (!made || !like.value) return '';
  if (made.lines === 0) return TEXTS.isNotForecastItself(like.value.name);
  const lines = TEXTS.forecastLinesOf(made.lines);
  const volume = [
    made.units > 0 ? TEXTS.unitsOf(formats.value.show(made.units, 'units')) : '',
    made.amount > 0 ? formats.value.inWords(made.amount) : '',
  ].filter((part) => part !== '');
  return TEXTS.inFirstTwelveMonthsFrom(
    lines,
    volume.join(' and ') || 'nothing',
    shortMonth(made.from, true),
  );
});
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.newProductLikeAnotherOne"
    :action="TEXTS.addAndForecast"
    :disabled="like === undefined || form.name.trim() === ''"
    v-bind="dialog"
  >
    <v-text-field v-bind="field('name')" :label="WORDS.name" maxlength="120" />
    <v-select
      v-model="form.dimension"
      :label="TEXTS.newMemberOf"
      :items="dimensions"
      item-value="code"
    />
    <v-autocomplete v-bind="field('like')" :label="TEXTS.like" :items="leaves" item-value="code" />
    <div class="row">
      <v-text-field v-bind="field('scale')" :label="TEXTS.volumePercentOfIt" inputmode="decimal" />
      <v-text-field
        v-bind="field('from')"
        type="month"
        :label="TEXTS.soldFrom"
        :min="firstOpen"
        :max="calendar.last"
      />
      <v-text-field
        v-model="form.price"
        :label="TEXTS.listPriceOptional(formats.currency)"
        inputmode="decimal"
        :placeholder="TEXTS.theSame"
      />
    </div>
    <p v-if="inWords" role="status">{{ inWords }}</p>
    <p class="quiet">
      {{ TEXTS.itGetsSeasonPricesDiscounts }}
    </p>
  </FormDialog>
</template>

<style scoped>
.row {
  display: flex;
  gap: 8px;
  margin-top: 6px;
}
.row .v-input {
  flex: 1;
}
</style>
