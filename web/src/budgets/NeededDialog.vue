<script setup lang="ts">
import { budgetOperations, neededAddressSchema, type Version } from '@dravex/contract';
import { inAll, monthFrom, monthText, type Scope } from '@dravex/core';
import { computed, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import { unitInWords } from '../grid/table-rows.ts';
import { spanInWords } from '../format/periods.ts';
import FormDialog from '../kit/FormDialog.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** The revenue that a version needs to cover other costs and leave a profit; it can be entered. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{
  version: Version;
  /** Whether it can be entered: by whoever plans, into a version that is open. */
  enters: boolean;
}>();
const plan = usePlan();
const { span, scope, formats, minor, unit, subjectOf } = useFrame();

/** The months of the period that the version has. */
const months = computed(() =>
  inAll([span.value, { from: monthFrom(props.version.from), to: monthFrom(props.version.to) }]),
);
const where = computed(() => ({
  from: monthText(months.value?.from ?? span.value.from),
  to: monthText(months.value?.to ?? span.value.to),
}));
const scopeNow = computed<Scope>(() => scope.value);
/** What is typed is meant in the unit that is shown. */
function minorsOf(text: string): number {
  if (text.trim() === '') return 0;
  const read = formats.value.read(text, false);
  return read === undefined ? Number.NaN : Math.round(read * unit.value * minor.value);
}
const { form, field, wrong, mistakes, submit, begin, busy, failure } = useForm({
  of: () => `${props.version.id} ${shown.value}`,
  fresh: () => ({ fixed: '', profit: '', why: '' }),
  schema: neededAddressSchema,
  body: ({ fixed, profit }) => ({
    ...{ scope: scopeNow.value.join(','), ...where.value },
    ...{ fixed: minorsOf(fixed), profit: minorsOf(profit) },
  }),
  send: async () => {
    const now = found.value;
    if (!now || !props.enters) return;
    const result = await plan.ask(
      budgetOperations.typeIntoVersion,
      { versionId: props.version.id },
      {
        typed: [
          {
            ...{ scope: [...scopeNow.value], ...where.value, measure: 'revenue', keeps: 'price' },
            ...{ total: now.needed, saw: now.revenue, basis: 'standing' },
          },
        ],
        why: form.value.why,
      },
    );
    await plan.inLine(plan.catchUp);
    plan.said = {
      text: TEXTS.revenueOfIsEnteredOver(props.version.name, money(now.needed), result.cells),
      undo: 'budget',
    };
    shown.value = false;
  },
});
watch(shown, (open) => open && begin());
const asked = computed(() => {
  const [fixed, profit] = [minorsOf(form.value.fixed), minorsOf(form.value.profit)];
  const said = form.value.fixed.trim() !== '' || form.value.profit.trim() !== '';
  return shown.value && said && mistakes.value.size === 0 && months.value
    ? { fixed, profit, scope: scopeNow.value.join(','), ...where.value }
    : undefined;
});
const { data: found, failure: notSaid } = useAnswer([asked, () => plan.tick], () =>
  asked.value
    ? plan.ask(budgetOperations.readRevenueNeeded, { versionId: props.version.id, ...asked.value })
    : Promise.resolve(undefined),
);
const money = (amount: number): string => formats.value.inWords(amount / minor.value);
const percent = (part: number): string => formats.value.show(part, 'percent', 1);
const said = computed(() => {
  const now = found.value;
  if (!now || !asked.value) return undefined;
  const profit = now.revenue - now.cost - asked.value.fixed;
  const more = now.needed / now.revenue - 1;
  return {
    now: TEXTS.plannedRevenueAtMarginOf(
      money(now.revenue),
      percent(now.ratio),
      profit,
      money(Math.abs(profit)),
    ),
    then: TEXTS.neededRevenueOfEveryLine(money(now.needed), percent(Math.abs(more)), more),
  };
});
const words = computed(() => unitInWords('money', unit.value, formats.value));
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.revenueNeededForProfit"
    :action="enters ? TEXTS.enterIntoBudget : WORDS.close"
    :busy="busy"
    :failure="failure || notSaid"
    :disabled="enters && !found"
    :width="460"
    @submit="enters ? submit() : (shown = false)"
  >
    <p class="quiet">
      {{ version.name }}{{ scope.length > 0 ? `, ${subjectOf(scope)}` : '' }},
      {{ spanInWords(months ?? span) }}.
    </p>
    <div class="two">
      <v-text-field
        v-bind="field('fixed')"
        :label="TEXTS.otherCosts(words)"
        autocomplete="off"
        inputmode="decimal"
        :hint="TEXTS.thoseThatDoNotFollow"
        persistent-hint
        :error-messages="wrong('fixed')"
      />
      <v-text-field
        v-bind="field('profit')"
        :label="TEXTS.wantedProfit(words)"
        autocomplete="off"
        inputmode="decimal"
        :error-messages="wrong('profit')"
      />
    </div>
    <div role="status">
      <template v-if="said">
        <p>{{ said.now }}</p>
        <p>
          <b>{{ said.then }}</b>
        </p>
      </template>
      <p v-else-if="!notSaid" class="quiet">{{ TEXTS.enterWhatIsToBe }}</p>
    </div>
    <v-text-field
      v-if="enters"
      v-bind="field('why')"
      :label="WORDS.reasonOptional"
      autocomplete="off"
    />
  </FormDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: repeat(2, 1fr);
  gap: 12px;
  align-items: start;
  margin-bottom: 8px;
}
</style>
