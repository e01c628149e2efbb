<script setup lang="ts">
import { computed, ref } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';

/** A sale that never reached the books, with the reason. */
const emit = defineEmits<{ close: [] }>();
const plan = usePlan();
const { formats, calendar } = useFrame();
const dimensions = computed(() =>
  (plan.workspace?.plan.dimensions ?? []).map(({ code, name, members }) => {
    const parents = new Set(members.map(({ parent }) => parent));
    return { code, name, leaves: members.filter(({ id }) => !parents.has(id)) };
  }),
);
const minor = computed(() => 10 ** (plan.workspace?.plan.currency.minorDigits ?? 2));
const form = ref({ date: calendar.value.asOf, quantity: '', amount: '', cost: '', why: '' });
const members = ref<Record<string, string>>({});
const refusal = ref('');
const busy = ref(false);

async function enter(): Promise<void> {
  refusal.value = '';
  const read = (text: string): number => formats.value.read(text || '0', false) ?? Number.NaN;
  const [quantity, amount, cost] = [form.value.quantity, form.value.amount, form.value.cost].map(
    read,
  );
  if ([quantity, amount, cost].some(Number.isNaN)) {
    refusal.value = 'Quantity, amount and cost are numbers';
    return;
  }
  busy.value = true;
  try {
    await plan.save(() =>
      request('POST', plan.path('/hand-lines'), {
        date: form.value.date,
        members: members.value,
        quantity,
        netAmount: Math.round((amount ?? 0) * minor.value),
        cost: Math.round((cost ?? 0) * minor.value),
        why: form.value.why,
      }),
    );
    await plan.reload();
    emit('close');
  } catch (error) {
    refusal.value = inWords(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <form class="hand" aria-label="A sale that is not in the books" @submit.prevent="enter">
    <label>Date <input v-model="form.date" type="date" required :max="calendar.asOf" /></label>
    <label v-for="dimension in dimensions" :key="dimension.code">
      {{ dimension.name }}
      <select v-model="members[dimension.code]" required>
        <option v-for="leaf in dimension.leaves" :key="leaf.id" :value="leaf.code">
          {{ leaf.name }}
        </option>
      </select>
    </label>
    <label>Quantity <input v-model="form.quantity" class="short" inputmode="decimal" /></label>
    <label>
      Net amount, {{ formats.currency }}
      <input v-model="form.amount" class="short" inputmode="decimal" required />
    </label>
    <label>
      Cost, {{ formats.currency }}
      <input v-model="form.cost" class="short" inputmode="decimal" />
    </label>
    <label class="why">
      Why it is not in the books <input v-model="form.why" required maxlength="500" />
    </label>
    <span class="controls">
      <button class="primary" type="submit" :disabled="busy">Enter it</button>
      <button class="plain" type="button" @click="emit('close')">Leave it</button>
    </span>
    <p v-if="refusal" class="failure" role="alert">{{ refusal }}</p>
  </form>
</template>

<style scoped>
.hand {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: end;
  padding: 10px 12px;
  background: var(--surface);
  border: 1px solid var(--line);
}
label {
  display: grid;
  gap: 2px;
}
.short {
  width: 90px;
}
.why input {
  width: 260px;
}
</style>
