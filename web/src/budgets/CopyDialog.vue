<script setup lang="ts">
import {
  budgetOperations,
  MOST_UPLIFTS,
  type CopyLook,
  type NewCopy,
  type Version,
} from '@dravex/contract';
import { fiscalYearOf, fiscalYearSpan, monthFrom, monthText, parseMonth } from '@dravex/core';
import { mdiClose } from '@mdi/js';
import { computed, watch } from 'vue';
import { spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { useMembers } from '../plan/use-members.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** Copies a version, the forecast or sales with uplifts: how next year's budget starts. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{
  /** The one in force, which is copied unless something else is chosen. */
  version: Version | undefined;
}>();
const emit = defineEmits<{ copied: [id: number] }>();

const plan = usePlan();
const { calendar, formats, minor, fiscalYear } = useFrame();
const members = useMembers();
const YEAR = 12;
const sources = computed(() => [
  ...plan.versions.map(({ id, name }) => ({ value: `version:${id}`, name })),
  { value: 'forecast', name: WORDS.forecast },
  { value: 'actual', name: TEXTS.actualSales },
]);
const versionOf = (of: string): Version | undefined =>
  plan.versions.find(({ id }) => `version:${id}` === of);

/**
 * Which months of a source are copied at first, and how much later: a version's own a year on, of
 * the forecast this year's, of sales those of the last year that is closed; into next year, if the
 * plan reaches so far.
 */
function monthsOf(of: string) {
  const { fiscalStart, closedThrough, last } = calendar.value;
  const yearOf = (year: number) => fiscalYearSpan(year, fiscalStart);
  const version = versionOf(of);
  const closed = monthFrom(closedThrough);
  const running = fiscalYearOf(closed, fiscalStart);
  const lastClosed = yearOf(running).to <= closed ? running : running - 1;
  const months = version
    ? { from: monthFrom(version.from), to: monthFrom(version.to) }
    : yearOf(of === 'actual' ? lastClosed : fiscalYear.value);
  const wanted = version || of === 'forecast' ? YEAR : YEAR * (running + 1 - lastClosed);
  const shift = months.to + wanted <= monthFrom(last) ? wanted : 0;
  const year = fiscalYearOf(months.to + shift, fiscalStart);
  const named = version ? TEXTS.copyWith(version.name) : TEXTS.fyFrom(year, of);
  return {
    name: shift > 0 ? TEXTS.budgetFy(year) : named,
    ...{ from: monthText(months.from), to: monthText(months.to), shift: String(shift) },
  };
}
const { form, field, wrong, begin, dialog } = useForm({
  of: () => String(props.version?.id),
  fresh: () => {
    const of = props.version ? `version:${props.version.id}` : 'actual';
    return {
      ...{ of, ...monthsOf(of), volume: '4', price: '', leaveOut: true, add: true },
      uplifts: [] as { scope: number[]; volume: string; price: string }[],
    };
  },
  schema: budgetOperations.copyVersion.body,
  body: ({ leaveOut, add, uplifts, ...typed }): NewCopy => ({
    ...{ of: typed.of, name: typed.name, from: typed.from, to: typed.to },
    ...{ volume: fractionOf(typed.volume), price: fractionOf(typed.price) },
    shift: typed.shift.trim() === '' ? 0 : Number(typed.shift),
    uplifts: uplifts.map(({ scope, volume, price }) => ({
      ...{ scope, volume: fractionOf(volume), price: fractionOf(price) },
    })),
    discontinued: leaveOut ? 'leaveOut' : 'keep',
    added: add ? 'forecast' : 'none',
  }),
  send: async (body) => {
    const { id } = await plan.ask(budgetOperations.copyVersion, {}, body);
    await plan.inLine(plan.catchUp);
    shown.value = false;
    emit('copied', id);
  },
});
function fractionOf(text: string): number {
  return text.trim() === '' ? 0 : (formats.value.read(text, true) ?? Number.NaN);
}
watch(shown, (open) => open && begin());
function copyOf(of: string): void {
  Object.assign(form.value, { of, ...monthsOf(of) });
}
const shift = computed(() => {
  const read = Number(form.value.shift);
  return Number.isInteger(read) && Math.abs(read) <= 120 ? read : 0;
});
/** Which months are copied; nothing while they are being typed. */
const months = computed(() => {
  const [from, to] = [parseMonth(form.value.from), parseMonth(form.value.to)];
  return from !== undefined && to !== undefined && from <= to ? { from, to } : undefined;
});
/** What has ended since, and what is new: a copy can follow both. */
const { data: look, failure: lookFailure } = useAnswer(
  [shown, shift, () => form.value.of, months, () => plan.tick],
  () =>
    shown.value && months.value
      ? plan.ask(budgetOperations.lookAtCopy, {
          of: form.value.of,
          from: form.value.from,
          to: form.value.to,
          shift: shift.value,
        })
      : Promise.resolve(undefined),
);
const inWords = ({ combinations, revenue }: CopyLook['added']): string =>
  TEXTS.lines(combinations, money(revenue));
const money = (revenue: number): string => formats.value.inWords(revenue / minor.value);
const named = ({ members: first }: CopyLook['added']): string =>
  first.map((ids) => plan.tree.label(ids)).join('\n');
/** What is copied comes to, and for when. */
const said = computed(() => {
  const found = look.value;
  if (!found) return lookFailure.value || TEXTS.chooseWhichMonthsAreCopied;
  const span = { from: monthFrom(found.from), to: monthFrom(found.to) };
  return TEXTS.beforeUpliftForTotalsAre(money(found.revenue), spanInWords(span));
});
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.copyWithUplift"
    :action="WORDS.copy"
    :width="520"
    v-bind="dialog"
  >
    <div class="two">
      <v-select
        :model-value="form.of"
        :label="TEXTS.copyOf"
        :items="sources"
        :error-messages="wrong('of')"
        @update:model-value="copyOf"
      />
      <v-text-field v-bind="field('name')" :label="WORDS.name" autocomplete="off" />
    </div>
    <div class="three">
      <v-text-field v-bind="field('from')" type="month" :label="TEXTS.firstMonth" />
      <v-text-field v-bind="field('to')" type="month" :label="WORDS.lastMonth" />
      <v-text-field
        v-bind="field('shift')"
        :label="TEXTS.monthsLater"
        autocomplete="off"
        inputmode="numeric"
      />
    </div>
    <p class="quiet" role="status">{{ said }}</p>
    <div class="uplift">
      <span class="whose">{{ TEXTS.upliftOfEverything }}</span>
      <v-text-field
        v-bind="field('volume')"
        :label="TEXTS.volumePercent"
        autocomplete="off"
        inputmode="decimal"
        placeholder="0"
      />
      <v-text-field
        v-bind="field('price')"
        :label="TEXTS.pricePercent"
        autocomplete="off"
        inputmode="decimal"
        placeholder="0"
      />
    </div>
    <div v-for="(uplift, place) in form.uplifts" :key="place" class="uplift">
      <v-autocomplete
        v-model="uplift.scope"
        :label="TEXTS.otherUpliftFor(place + 1)"
        :items="members"
        item-value="id"
        multiple
        chips
        closable-chips
        :error-messages="wrong(`uplifts.${place}.scope`)"
      />
      <v-text-field
        v-model="uplift.volume"
        :label="TEXTS.volumePercent"
        autocomplete="off"
        inputmode="decimal"
        placeholder="0"
        :error-messages="wrong(`uplifts.${place}.volume`)"
      />
      <v-text-field
        v-model="uplift.price"
        :label="TEXTS.pricePercent"
        autocomplete="off"
        inputmode="decimal"
        placeholder="0"
        :error-messages="wrong(`uplifts.${place}.price`)"
      />
      <v-btn
        variant="text"
        :icon="mdiClose"
        :aria-label="TEXTS.removeUplift(place + 1)"
        @click="form.uplifts.splice(place, 1)"
      />
    </div>
    <v-btn
      v-if="form.uplifts.length < MOST_UPLIFTS"
      variant="plain"
      @click="form.uplifts.push({ scope: [], volume: form.volume, price: form.price })"
    >
      {{ TEXTS.addUpliftForSomeSales }}
    </v-btn>
    <template v-if="look">
      <v-checkbox
        v-if="look.discontinued.combinations > 0"
        v-model="form.leaveOut"
        :label="TEXTS.leaveOutWhatIsSold(inWords(look.discontinued))"
        :title="named(look.discontinued)"
      />
      <v-checkbox
        v-if="look.added.combinations > 0"
        v-model="form.add"
        :label="TEXTS.addWhatIsNewFrom(inWords(look.added))"
        :title="named(look.added)"
      />
    </template>
  </FormDialog>
</template>

<style scoped>
.two,
.three {
  display: grid;
  grid-template-columns: repeat(2, 1fr);
  gap: 12px;
}
.three {
  grid-template-columns: repeat(3, 1fr);
}
.uplift {
  display: grid;
  grid-template-columns: 1fr 96px 96px 36px;
  gap: 12px;
  align-items: start;
}
.whose {
  padding-top: 26px;
}
</style>
