<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { usePlan } from '../plan/use-plan.ts';
import { roomInSight, ROOMS } from './rooms.ts';
import { useFrame } from './use-frame.ts';
import { chooseTheme, isDark } from './use-theme.ts';

/** Goes anywhere: a room, a member, a driver, a version, a stream; and a few things to do. */
const shown = defineModel<boolean>({ required: true });
const emit = defineEmits<{ help: [] }>();

const plan = usePlan();
const route = useRoute();
const router = useRouter();
const { set, setScope, addressOf } = useFrame();

interface Place {
  readonly name: string;
  readonly kind: string;
  readonly go: () => unknown;
}

const text = ref('');
const chosen = ref(0);
const input = ref<HTMLInputElement>();
const streams = ref<readonly (readonly number[])[]>([]);
/** The streams being asked for: what is typed meanwhile waits for them and is not lost. */
let asked: Promise<void> = Promise.resolve();
watch(shown, async (open) => {
  if (!open) return;
  text.value = '';
  chosen.value = 0;
  asked = plan
    .compute()
    .streamMembers()
    .then((members) => {
      streams.value = members;
    });
  await nextTick();
  input.value?.focus();
});

function toRoom(room: string, query: Record<string, string | undefined> = {}): unknown {
  return router.push({
    path: `/w/${plan.workspaceId}/${room}`,
    query: { ...route.query, ...query },
  });
}

const places = computed<Place[]>(() => [
  ...ROOMS.map(({ key, numeral, name }) => ({
    name,
    kind: `room ${numeral}`,
    go: () => toRoom(key),
  })),
  { name: 'Settings', kind: 'room', go: () => toRoom('settings') },
  { name: 'Dimensions', kind: 'room', go: () => toRoom('dimensions') },
  { name: 'Connections', kind: 'room', go: () => toRoom('connections') },
  { name: 'Access for reporting', kind: 'room', go: () => toRoom('access') },
  { name: 'Take back', kind: 'Ctrl Z', go: () => plan.undo(roomInSight(route.name)) },
  { name: 'Do again', kind: 'Ctrl Y', go: () => plan.redo(roomInSight(route.name)) },
  { name: 'Keys and legend', kind: '?', go: () => emit('help') },
  {
    name: isDark() ? 'Theme: paper' : 'Theme: ink',
    kind: 'look',
    go: () => chooseTheme(isDark() ? 'paper' : 'ink'),
  },
  { name: 'Everything', kind: 'lift the scope', go: () => setScope([]) },
  ...(plan.workspace?.plan.drivers ?? []).map(({ code, name }) => ({
    name,
    kind: 'driver',
    go: () => toRoom('drivers', { driver: code }),
  })),
  ...plan.versions.map(({ id, name }) => ({
    name,
    kind: 'version',
    go: () => toRoom('budget', { version: String(id) }),
  })),
  ...(plan.workspace?.plan.dimensions ?? []).flatMap((dimension) =>
    plan.tree.inOrder(dimension).map(({ id, name }) => ({
      name,
      kind: dimension.name.toLowerCase(),
      go: () => set(addressOf([id])),
    })),
  ),
  ...streams.value.map((members) => ({
    name: plan.tree.label(members),
    kind: 'stream',
    go: () => toRoom('forecast', addressOf(members)),
  })),
]);

const MOST = 12;
const found = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean);
  return places.value
    .filter(({ name, kind }) =>
      words.every((word) => `${name} ${kind}`.toLowerCase().includes(word)),
    )
    .slice(0, MOST);
});
watch(text, () => (chosen.value = 0));

function move(step: number): void {
  const { length } = found.value;
  if (length > 0) chosen.value = (chosen.value + step + length) % length;
}
/** Goes to the chosen place; where nothing is called that yet, when the streams are known. */
async function enter(): Promise<void> {
  if (found.value.length === 0) await asked;
  go(found.value[chosen.value]);
}
function go(place: Place | undefined): void {
  if (!place) return;
  shown.value = false;
  place.go();
}
</script>

<template>
  <v-dialog v-model="shown" max-width="520" location="top">
    <div class="dialog-sheet palette" role="document" aria-label="Go to">
      <input
        ref="input"
        v-model="text"
        role="combobox"
        aria-label="Go to a room, member, driver, version or stream"
        aria-controls="palette-list"
        aria-expanded="true"
        :aria-activedescendant="`palette-${chosen}`"
        placeholder="Room, member, driver, version, stream"
        autocomplete="off"
        @keydown.down.prevent="move(1)"
        @keydown.up.prevent="move(-1)"
        @keydown.enter.prevent="enter"
      />
      <ul id="palette-list" role="listbox" aria-label="Places">
        <li
          v-for="(place, index) in found"
          :id="`palette-${index}`"
          :key="`${place.kind} ${place.name}`"
          role="option"
          :aria-selected="index === chosen"
          @click="go(place)"
          @mousemove="chosen = index"
        >
          <span>{{ place.name }}</span><span class="quiet">{{ place.kind }}</span>
        </li>
      </ul>
      <p v-if="found.length === 0" class="quiet">Nothing is called that.</p>
    </div>
  </v-dialog>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 5px 8px;
  border-radius: 3px;
  cursor: pointer;
}
li[aria-selected='true'] {
  background: var(--harbour-soft);
}
</style>
