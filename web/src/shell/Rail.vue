<script setup lang="ts">
import { computed } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useRights } from '../people/use-planner.ts';
import { useSession } from '../people/use-session.ts';
import { ROOMS, ROOMS_OF_A_PART, WITHIN } from './rooms.ts';
import { TEXTS } from './texts.ts';

const route = useRoute();
const router = useRouter();
const session = useSession();
const { readsAll } = useRights();
const rooms = computed(() => (readsAll.value ? ROOMS : ROOMS_OF_A_PART));
/** The room to which the page in sight belongs. */
const roomInSight = computed(() => {
  const name = String(route.name);
  return name in WITHIN ? WITHIN[name as keyof typeof WITHIN] : name;
});

const base = computed(() => `/w/${String(route.params['workspaceId'])}`);

async function leave(): Promise<void> {
  await session.signOut();
  // The page is loaded anew, so that nothing of the last person's plan stays in memory.
  window.location.assign(router.resolve({ name: 'sign-in' }).href);
}
</script>

<template>
  <nav class="rail" :aria-label="TEXTS.rooms">
    <RouterLink
      v-for="room in rooms"
      :key="room.key"
      :to="`${base}/${room.key}`"
      class="room-link"
      :class="{ here: room.key === roomInSight }"
      :title="room.name"
      active-class="here"
    >
      <span class="numeral">{{ room.numeral }}</span><span class="name">{{ room.name }}</span>
    </RouterLink>
    <div class="foot-of-rail">
      <RouterLink :to="`${base}/settings`" class="settings" active-class="here">{{
        TEXTS.settings
      }}</RouterLink>
      <span class="person">{{ session.person?.name }}</span>
      <v-btn variant="plain" class="leave" @click="leave">{{ TEXTS.signOut }}</v-btn>
    </div>
  </nav>
</template>

<style scoped>
.rail {
  display: flex;
  flex-direction: column;
  padding: 14px 0;
  border-right: 1px solid var(--line);
  background: var(--paper);
}
.room-link {
  display: flex;
  gap: 14px;
  align-items: baseline;
  padding: 5px 0 5px 17px;
  border-left: 3px solid transparent;
  color: var(--ink-quiet);
  text-decoration: none;
  font-size: 13.5px;
}
.room-link:hover {
  color: var(--ink);
}
.room-link.here {
  color: var(--ink);
  font-weight: 650;
  border-left-color: var(--ember);
  background: var(--surface);
}
.numeral {
  font-size: 11px;
  width: 8px;
  font-variant-numeric: tabular-nums;
}
.foot-of-rail {
  margin-top: auto;
  padding: 0 12px 0 20px;
  display: grid;
  gap: 2px;
  justify-items: start;
  color: var(--ink-quiet);
  font-size: 12px;
}
.settings {
  color: var(--ink-quiet);
  text-decoration: none;
  font-size: 13px;
  margin-bottom: 6px;
}
.settings.here {
  color: var(--ink);
  font-weight: 650;
}
.person {
  color: var(--ink);
}
@media (max-width: 1100px) {
  .foot-of-rail .person {
    display: none;
  }
  /* Out of sight, and still what the link is called. */
  .name {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
    white-space: nowrap;
  }
  .room-link {
    padding-left: 14px;
  }
  .numeral {
    font-size: 13px;
  }
  .foot-of-rail {
    padding: 0 4px;
  }
  .settings,
  .leave {
    font-size: 11px;
  }
}
</style>
