<script setup lang="ts">
import { dimensionOperations, type DimensionDetail, type TellApart } from '@dravex/contract';
import { computed, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import FormDialog from '../kit/FormDialog.vue';
import SheetTable from '../kit/SheetTable.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useForm } from '../writing/use-form.ts';
import { TEXTS } from './texts.ts';

/** Which products or customers belong to which member of a dimension: in history and in files to come. */
const shown = defineModel<boolean>({ required: true });
const props = defineProps<{
  dimension: DimensionDetail;
  all: readonly DimensionDetail[];
}>();
const emit = defineEmits<{ made: [text: string] }>();
const plan = usePlan();
const { formats, minor } = useFrame();

const BY_CUSTOMER = 'customer';
const parents = computed(() => new Set(props.dimension.members.map(({ parent }) => parent)));
const leaves = computed(() => props.dimension.members.filter(({ id }) => !parents.value.has(id)));
const ways = computed(() => [
  ...props.all
    .filter(({ code }) => code !== props.dimension.code)
    .map(({ code, name }) => ({ value: code, name })),
  { value: BY_CUSTOMER, name: WORDS.customer },
]);
const STAY = '';
const rests = computed(() => [
  { value: STAY, name: TEXTS.stayWhereTheyAre },
  ...leaves.value.map(({ code, name }) => ({ value: code, name: TEXTS.belongTo(name) })),
]);

interface RuleForm {
  by: string;
  /** Members of the other dimension, by the member that they belong to. */
  members: Record<string, string[]>;
  /** Customers, as they are typed or pasted. */
  customers: Record<string, string>;
  rest: string;
}
/** One a line, or divided by commas or semicolons, as a column of a sheet is pasted. */
const listed = (text: string): string[] =>
  text
    .split(/[\n;,\t]/)
    .map((part) => part.trim())
    .filter((part) => part !== '');
function wishOf({ by, members, customers, rest }: RuleForm): TellApart {
  const valuesOf = (code: string): string[] =>
    by === BY_CUSTOMER ? listed(customers[code] ?? '') : (members[code] ?? []);
  return {
    by,
    rules: leaves.value.flatMap(({ code }) => {
      const values = valuesOf(code);
      return values.length > 0 ? [{ member: code, values }] : [];
    }),
    rest: rest === STAY ? null : rest,
  };
}
const { form, submit, begin, busy, failure } = useForm({
  of: () => props.dimension.code,
  fresh: (): RuleForm => ({
    by: ways.value.find(({ value }) => value === 'product')?.value ?? ways.value[0]?.value ?? '',
    members: {},
    customers: {},
    rest: STAY,
  }),
  schema: dimensionOperations.tellApart.body,
  body: wishOf,
  send: async (body) => {
    const { lines } = await plan.ask(
      dimensionOperations.tellApart,
      { dimension: props.dimension.code, apply: 'yes' },
      body,
    );
    emit('made', TEXTS.salesLinesMoved(props.dimension.name, formats.value.show(lines, 'units')));
    shown.value = false;
  },
});
watch(shown, (open) => open && begin());
const wish = computed(() => wishOf(form.value));
const offered = computed(() => {
  const found = plan.tree.dimensions.find(({ code }) => code === form.value.by);
  return found ? plan.tree.inOrder(found) : [];
});
const { data: effect, failure: refusal } = useAnswer(
  [shown, () => JSON.stringify(wish.value)],
  async () => {
    if (!shown.value || wish.value.rules.length === 0) return undefined;
    return plan.ask(
      dimensionOperations.tellApart,
      { dimension: props.dimension.code, apply: 'no' },
      wish.value,
    );
  },
);
</script>

<template>
  <FormDialog
    v-model="shown"
    :title="TEXTS.assignByRule(dimension.name)"
    :action="WORDS.apply"
    :busy="busy"
    :failure="failure || refusal"
    :disabled="!effect || effect.lines + effect.streams + effect.withoutSales.length === 0"
    :width="620"
    @submit="submit"
  >
    <p class="quiet">
      {{ TEXTS.chooseWhatBelongsToWhich(dimension.name) }}
    </p>
    <v-select v-model="form.by" :label="TEXTS.assignedBy" :items="ways" />
    <template v-for="leaf in leaves" :key="leaf.code">
      <v-textarea
        v-if="form.by === BY_CUSTOMER"
        v-model="form.customers[leaf.code]"
        :label="TEXTS.customersOf(leaf.name)"
        :placeholder="TEXTS.oneLineOrDividedBy"
        rows="2"
      />
      <v-autocomplete
        v-else
        v-model="form.members[leaf.code]"
        :label="leaf.name"
        multiple
        :items="offered"
        item-value="code"
      />
    </template>
    <v-select v-model="form.rest" :label="TEXTS.allOthers" :items="rests" />
    <SheetTable v-if="effect && effect.members.length > 0" :about="TEXTS.whatMoves">
      <thead>
        <tr>
          <th scope="col" class="words">{{ TEXTS.movesTo }}</th>
          <th scope="col">{{ WORDS.salesLines }}</th>
          <th scope="col">{{ formats.currency }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in effect.members" :key="one.member">
          <td class="words">{{ one.name }}</td>
          <td>{{ formats.show(one.lines, 'units') }}</td>
          <td>{{ formats.show(one.revenue / minor, 'money', 1) }}</td>
        </tr>
      </tbody>
    </SheetTable>
    <p v-if="effect && effect.withoutSales.length > 0" class="waits">
      {{ TEXTS.noSalesAreKnownOf(effect.withoutSales.join(', ')) }}
    </p>
    <p v-else-if="effect && effect.lines + effect.streams === 0" class="quiet">
      {{ TEXTS.everythingIsWhereThisRule }}
    </p>
    <p v-if="effect && effect.streams > 0">
      {{ TEXTS.forecastLinesGoWithTheir(effect.streams) }}
    </p>
    <p v-else-if="effect && effect.lines > 0 && form.by === BY_CUSTOMER">
      {{ TEXTS.forecastLinesStayWhatIs }}
    </p>
  </FormDialog>
</template>
