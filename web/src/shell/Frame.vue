<script setup lang="ts">
import { fiscalYearOf } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { useRoute } from 'vue-router';
import { WORDS } from '../format/words.ts';
import HelpDrawer from '../help/HelpDrawer.vue';
import TourDialog from '../help/TourDialog.vue';
import HistoryDrawer from '../journal/HistoryDrawer.vue';
import { useHistory } from '../journal/use-history.ts';
import { useSession } from '../people/use-session.ts';
import { useNotices } from '../plan/use-notices.ts';
import { usePlan } from '../plan/use-plan.ts';
import TraceDrawer from '../trace/TraceDrawer.vue';
import { useTrace } from '../trace/use-trace.ts';
import ClashDialog from './ClashDialog.vue';
import UndoDialog from './UndoDialog.vue';
import Foot from './Foot.vue';
import Horizon from './Horizon.vue';
import KeysHelp from './KeysHelp.vue';
import Palette from './Palette.vue';
import Rail from './Rail.vue';
import { TEXTS } from './texts.ts';
import { useKeys } from './use-keys.ts';

const plan = usePlan();
const trace = useTrace();
const history = useHistory();
const route = useRoute();
const year = computed(() => {
  const { workspace } = plan;
  return workspace ? fiscalYearOf(plan.closedThrough, workspace.plan.calendar.fiscalStart) : '';
});
const { palette, keys, help } = useKeys();
const session = useSession();
/** The tour of the first visit, when there is something to see. */
const touring = ref(session.preferences.toured !== true);
useNotices();
watch(
  () => route.name,
  () => trace.leave(),
);
watch(
  () => trace.open,
  (open) => {
    if (!open) return;
    history.close();
    help.value = false;
  },
);
watch(
  () => history.open,
  (open) => {
    if (open) help.value = false;
  },
);
watch(help, (open) => {
  if (!open) return;
  trace.close();
  history.close();
});
</script>

<template>
  <div v-if="plan.workspace" class="frame">
    <a class="skip" href="#room">{{ TEXTS.skipToRoom }}</a>
    <div class="mark no-print">
      <b>{{ WORDS.dravex }}</b>
      <span :title="plan.workspace.name">{{ plan.workspace.name }}</span>
      <span>{{ TEXTS.fy(year) }}</span>
    </div>
    <Horizon class="no-print" />
    <Rail class="no-print" />
    <div class="middle">
      <main id="room" class="place" tabindex="-1"><RouterView /></main>
      <TraceDrawer v-if="trace.open" />
      <HistoryDrawer v-else-if="history.open" />
      <HelpDrawer
        v-else-if="help"
        @close="help = false"
        @keys="keys = true"
        @tour="touring = true"
      />
    </div>
    <Foot class="base" @palette="palette = true" @help="help = true" />
    <Palette v-model="palette" @keys="keys = true" @help="help = true" />
    <KeysHelp v-model="keys" />
    <TourDialog v-model="touring" />
    <ClashDialog />
    <UndoDialog />
  </div>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template: 60px minmax(0, 1fr) 28px / 136px minmax(0, 1fr);
  height: 100vh;
}
/* Seen by who comes to it by the keyboard only. */
.skip {
  position: fixed;
  top: -60px;
  left: 8px;
  z-index: 10;
  padding: 6px 12px;
  background: var(--surface);
}
.skip:focus {
  top: 8px;
}
.place:focus {
  outline: none;
}
.mark {
  padding: 12px 0 0 16px;
  display: grid;
  grid-template-columns: minmax(0, auto) auto;
  column-gap: 4px;
  place-content: start;
  border-bottom: 1px solid var(--line);
}
.mark b {
  grid-column: 1 / -1;
  font-size: 16px;
  line-height: 20px;
}
.mark span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-size: 11.5px;
  color: var(--ink-quiet);
}
.frame > .horizon {
  border-bottom: 1px solid var(--line);
  padding-left: 16px;
}
.middle {
  display: flex;
  min-height: 0;
  min-width: 0;
}
.place {
  flex: 1;
  padding: 10px 18px 12px;
  min-height: 0;
  min-width: 0;
  overflow: hidden;
}
.base {
  grid-column: 1 / -1;
}
@media (max-width: 1100px) {
  .frame {
    grid-template-columns: 52px minmax(0, 1fr);
  }
  .mark span {
    display: none;
  }
  .mark {
    padding-left: 6px;
  }
  .mark b {
    font-size: 12px;
  }
}
@media (max-width: 900px), (max-height: 560px) {
  .frame {
    height: auto;
    min-height: 100vh;
    grid-template-rows: auto minmax(0, auto) auto;
  }
  .place {
    overflow: visible;
  }
}
@media print {
  .frame {
    display: block;
    height: auto;
  }
  .middle {
    display: block;
  }
  .place {
    overflow: visible;
    padding: 0;
  }
}
</style>
