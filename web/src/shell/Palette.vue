<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { WORDS } from '../format/words.ts';
import { useRights } from '../people/use-planner.ts';
import { useSession } from '../people/use-session.ts';
import { usePlan } from '../plan/use-plan.ts';
import DialogSheet from '../kit/DialogSheet.vue';
import SearchList from '../kit/SearchList.vue';
import { OF_A_PART, roomInSight, ROOMS } from './rooms.ts';
import { TEXTS } from './texts.ts';
import { useFrame } from './use-frame.ts';
import { isDark } from './use-theme.ts';

/** Goes anywhere: a room, a member, a driver, a version, a stream; and a few things to do. */
const shown = defineModel<boolean>({ required: true });
const emit = defineEmits<{ keys: []; help: [] }>();

const plan = usePlan();
const session = useSession();
const route = useRoute();
const router = useRouter();
const { set, setScope, addressOf } = useFrame();

interface Place {
  readonly name: string;
  readonly kind: string;
  readonly go: () => unknown;
}

const text = ref('');
const streams = ref<readonly (readonly number[])[]>([]);
/** The streams being asked for: what is typed meanwhile waits for them and is not lost. */
let asked: Promise<void> = Promise.resolve();
watch(shown, (open) => {
  if (!open) return;
  text.value = '';
  asked = plan
    .compute()
    .streamMembers()
    .then((members) => {
      streams.value = members;
    });
});

function toRoom(room: string, query: Record<string, string | undefined> = {}): unknown {
  return router.push({
    path: `/w/${plan.workspaceId}/${room}`,
    query: { ...route.query, ...query },
  });
}

const { readsAll } = useRights();
const MORE_ROOMS = [
  { key: 'settings', name: TEXTS.settings },
  { key: 'dimensions', name: WORDS.dimensions },
  { key: 'connections', name: WORDS.connections },
  { key: 'access', name: TEXTS.reportingAccess },
];
const rooms = computed(() =>
  [
    ...ROOMS.map(({ key, numeral, name }) => ({ key, name, kind: TEXTS.room(numeral) })),
    ...MORE_ROOMS.map((room) => ({ ...room, kind: 'room' })),
  ].filter(({ key }) => readsAll.value || OF_A_PART.has(key)),
);
const places = computed<Place[]>(() => [
  ...rooms.value.map(({ key, name, kind }) => ({ name, kind, go: () => toRoom(key) })),
  { name: TEXTS.undo, kind: TEXTS.ctrlZ, go: () => plan.undo(roomInSight(route.name)) },
  { name: TEXTS.redo, kind: TEXTS.ctrlY, go: () => plan.redo(roomInSight(route.name)) },
  { name: TEXTS.helpForThisRoom, kind: 'F1', go: () => emit('help') },
  { name: TEXTS.keyboardAndLegend, kind: '?', go: () => emit('keys') },
  {
    name: isDark() ? TEXTS.themeLight : TEXTS.themeDark,
    kind: 'appearance',
    go: () => session.prefer({ theme: isDark() ? 'light' : 'dark' }),
  },
  { name: TEXTS.removeAllFilters, kind: 'filter', go: () => setScope([]) },
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
    kind: TEXTS.forecastLine,
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
/** Goes to the chosen place; where nothing is called that yet, when the forecast lines are known. */
async function enter(place: Place | undefined): Promise<void> {
  if (!place) await asked;
  go(place ?? found.value[0]);
}
function go(place: Place | undefined): void {
  if (!place) return;
  shown.value = false;
  place.go();
}
</script>

<template>
  <DialogSheet v-model="shown" :title="TEXTS.goTo" :width="520" location="top">
    <SearchList
      v-slot="{ one }"
      v-model="text"
      :label="TEXTS.goToRoomMemberDriver"
      :placeholder="TEXTS.roomMemberDriverVersionForecast"
      :found="found"
      @enter="enter"
    >
      <span>{{ one.name }}</span><span class="quiet">{{ one.kind }}</span>
    </SearchList>
    <p v-if="found.length === 0" class="quiet">{{ TEXTS.nothingMatches(text) }}</p>
  </DialogSheet>
</template>
