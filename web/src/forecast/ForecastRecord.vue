<script setup lang="ts">
import { closingOperations } from '@dravex/contract';
import { computed } from 'vue';
import { monthsInWords } from '../format/periods.ts';
import Term from '../kit/Term.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

/** How good the forecasts kept of some members were, where the next one is made. */
const props = defineProps<{ scope: readonly number[] }>();
const plan = usePlan();
const { calendar, formats } = useFrame();
const found = useAnswer([() => props.scope.join(), () => plan.tick], async () => {
  const rows = plan.workspace?.plan.dimensions[0]?.code ?? '';
  const { first, closedThrough } = calendar.value;
  const query = { rows, scope: props.scope.join(), from: first, to: closedThrough, leads: '1,3' };
  return (await plan.ask(closingOperations.readAccuracy, query)).total;
});
const said = computed(() => {
  const total = found.data.value;
  const known = total?.leads.filter(({ months, wape }) => months > 0 && wape !== null) ?? [];
  if (!total || known.length === 0) return '';
  const leads = known.map(({ lead, wape }) =>
    TEXTS.ahead(formats.value.show(wape, 'percent'), monthsInWords(lead)),
  );
  const side = total.always === 'tooHigh' ? TEXTS.tooHigh : TEXTS.tooLow;
  const [nearest] = known;
  const bias = nearest?.biasShare ?? null;
  const lean = bias === null ? '' : TEXTS.bias(formats.value.signed(bias, 'percent'));
  return `${leads.join(', ')}${lean}${total.always ? TEXTS.always(side) : ''}`;
});
</script>

<template>
  <p v-if="said" class="quiet" data-record>
    <Term of="forecastError">{{ TEXTS.forecastError }}</Term> {{ TEXTS.soFar(said) }}
  </p>
</template>
