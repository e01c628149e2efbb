<script setup lang="ts">
import type { NewTargetNode, TargetNode } from '@dravex/contract';
import { computed, ref, watch } from 'vue';
import type { Formats } from '../format/numbers.ts';
import { usePlan } from '../plan/use-plan.ts';
import { readPart } from './read-part.ts';

/** Puts an area or a person below a node. */
const parent = defineModel<TargetNode | undefined>({ required: true });
const props = defineProps<{ formats: Formats; minor: number }>();
const emit = defineEmits<{ add: [node: NewTargetNode] }>();

const plan = usePlan();
const name = ref('');
const kind = ref<'area' | 'person'>('area');
const seller = ref('');
const part = ref('');
const scope = ref<string>('');
const failure = ref('');
watch(parent, (node) => {
  if (!node) return;
  kind.value = node.kind === 'company' ? 'area' : 'person';
  name.value = seller.value = part.value = scope.value = failure.value = '';
});
const shown = computed({
  get: () => parent.value !== undefined,
  set: (open) => {
    if (!open) parent.value = undefined;
  },
});
const members = computed(() =>
  (plan.workspace?.plan.dimensions ?? []).flatMap((dimension) =>
    plan.tree
      .inOrder(dimension)
      .map(({ id, name: member }) => ({ id, name: `${dimension.name}: ${member}` })),
  ),
);

function submit(): void {
  const node = parent.value;
  const read = readPart(part.value, props.formats, props.minor);
  if (!node) return;
  if (name.value.trim() === '') failure.value = 'Give it a name';
  else if (kind.value === 'person' && seller.value.trim() === '') {
    failure.value = 'Say which seller code the sales lines bear';
  } else if ('reason' in read) failure.value = read.reason;
  else {
    emit('add', {
      parent: node.id,
      name: name.value.trim(),
      kind: kind.value,
      scope: scope.value === '' ? [] : [Number(scope.value)],
      seller: kind.value === 'person' ? seller.value.trim() : null,
      part: read.part,
    });
    parent.value = undefined;
  }
}
</script>

<template>
  <v-dialog v-model="shown" max-width="380">
    <form class="dialog-sheet" aria-labelledby="add-title" @submit.prevent="submit">
      <h2 id="add-title">Below {{ parent?.name }}</h2>
      <div class="controls" role="group" aria-label="Kind">
        <button type="button" class="chip" :aria-pressed="kind === 'area'" @click="kind = 'area'">
          Area
        </button>
        <button
          type="button"
          class="chip"
          :aria-pressed="kind === 'person'"
          @click="kind = 'person'"
        >
          Person
        </button>
      </div>
      <label for="part-name">Name</label>
      <input id="part-name" v-model="name" autocomplete="off" />
      <template v-if="kind === 'person'">
        <label for="part-seller">Seller code</label>
        <input id="part-seller" v-model="seller" autocomplete="off" />
      </template>
      <label for="part-scope">Scope</label>
      <select id="part-scope" v-model="scope">
        <option value="">as above it</option>
        <option v-for="member in members" :key="member.id" :value="String(member.id)">
          {{ member.name }}
        </option>
      </select>
      <label for="part-size">Part of {{ parent?.name }}, as 25% or an amount</label>
      <input id="part-size" v-model="part" autocomplete="off" placeholder="25%" />
      <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
      <div class="buttons">
        <button class="primary" type="submit">Add</button>
        <button class="plain" type="button" @click="shown = false">Leave</button>
      </div>
    </form>
  </v-dialog>
</template>
