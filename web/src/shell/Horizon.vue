<script setup lang="ts">
import { fiscalYearOf, monthFrom, monthInYear, type Month } from '@dravex/core';
import { computed, ref } from 'vue';
import { dayInWords, longMonth, shortMonth, spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import { TEXTS } from './texts.ts';
import { useFrame, type Preset } from './use-frame.ts';

const { calendar, presets, preset, span, setSpan } = useFrame();

const first = computed(() => monthFrom(calendar.value.first));
const last = computed(() => monthFrom(calendar.value.last));
const closed = computed(() => monthFrom(calendar.value.closedThrough));
const today = computed(() => monthFrom(calendar.value.asOf.slice(0, 7)));
const count = computed(() => last.value - first.value + 1);
const months = computed(() => Array.from({ length: count.value }, (_, i) => first.value + i));
/** So many months of a year leave its name room. */
const NAMED = 4;
const years = computed(() => {
  const starts = months.value.filter(
    (month, i) => i === 0 || monthInYear(month) === calendar.value.fiscalStart,
  );
  return starts.map((month, i) => {
    const named = (starts[i + 1] ?? last.value + 1) - month >= NAMED;
    const name = `FY ${fiscalYearOf(month, calendar.value.fiscalStart)}`;
    return { month, name: named ? name : '' };
  });
});

/** The bracket while it is dragged; the address changes when it is let go. */
const dragged = ref<{ from: Month; to: Month }>();
const bracket = computed(() => dragged.value ?? span.value);
const strip = ref<HTMLElement>();

function at(month: Month): string {
  return `${((month - first.value) / count.value) * 100}%`;
}

function monthUnder(event: PointerEvent): Month {
  const box = strip.value?.getBoundingClientRect();
  if (!box) return first.value;
  const part = (event.clientX - box.left) / box.width;
  const place = Math.floor(part * count.value);
  return first.value + Math.min(count.value - 1, Math.max(0, place));
}

type End = 'from' | 'to' | 'both';

function drag(end: End, event: PointerEvent): void {
  const start = span.value;
  const grabbed = monthUnder(event);
  const handle = event.currentTarget as HTMLElement;
  handle.setPointerCapture(event.pointerId);
  const move = (next: PointerEvent): void => {
    const month = monthUnder(next);
    if (end === 'from') dragged.value = { from: Math.min(month, start.to), to: start.to };
    else if (end === 'to') dragged.value = { from: start.from, to: Math.max(month, start.from) };
    else {
      const shift = Math.min(
        last.value - start.to,
        Math.max(first.value - start.from, month - grabbed),
      );
      dragged.value = { from: start.from + shift, to: start.to + shift };
    }
  };
  const stop = async (): Promise<void> => {
    handle.removeEventListener('pointermove', move);
    const next = dragged.value;
    if (next && (next.from !== start.from || next.to !== start.to))
      await setSpan(next.from, next.to);
    dragged.value = undefined;
  };
  handle.addEventListener('pointermove', move);
  handle.addEventListener('pointerup', () => void stop(), { once: true });
}

function nudge(end: 'from' | 'to', event: KeyboardEvent): void {
  const step = { ArrowLeft: -1, ArrowRight: 1, PageDown: -12, PageUp: 12 }[event.key];
  if (step === undefined) return;
  event.preventDefault();
  const { from, to } = span.value;
  if (end === 'from') void setSpan(Math.max(first.value, Math.min(from + step, to)), to);
  else void setSpan(from, Math.min(last.value, Math.max(to + step, from)));
}

function take(name: Preset): void {
  const { from, to } = presets.value[name];
  void setSpan(from, to);
}
</script>

<template>
  <div class="horizon">
    <div ref="strip" class="strip" role="group" :aria-label="WORDS.months">
      <span v-for="year in years" :key="year.month" class="year" :style="{ left: at(year.month) }">
        {{ year.name }}
      </span>
      <div class="months">
        <span
          v-for="month in months"
          :key="month"
          class="month"
          :class="{ closed: month <= closed }"
          :title="`${longMonth(month)}, ${month <= closed ? 'closed' : 'open'}`"
          @click="setSpan(month, month)"
        >
          {{ shortMonth(month).charAt(0) }}
        </span>
      </div>
      <div
        class="bracket"
        :style="{ left: at(bracket.from), width: at(first + bracket.to - bracket.from + 1) }"
        @pointerdown.prevent="drag('both', $event)"
      />
      <div
        class="handle"
        role="slider"
        tabindex="0"
        :aria-label="TEXTS.periodStarts"
        :aria-valuemin="first"
        :aria-valuemax="bracket.to"
        :aria-valuenow="bracket.from"
        :aria-valuetext="longMonth(bracket.from)"
        :style="{ left: at(bracket.from) }"
        @pointerdown.prevent.stop="drag('from', $event)"
        @keydown="nudge('from', $event)"
      />
      <div
        class="handle"
        role="slider"
        tabindex="0"
        :aria-label="TEXTS.periodEnds"
        :aria-valuemin="bracket.from"
        :aria-valuemax="last"
        :aria-valuenow="bracket.to"
        :aria-valuetext="longMonth(bracket.to)"
        :style="{ left: at(bracket.to + 1) }"
        @pointerdown.prevent.stop="drag('to', $event)"
        @keydown="nudge('to', $event)"
      />
      <span
        class="today"
        :style="{ left: at(today) }"
        :title="TEXTS.asOf(dayInWords(calendar.asOf))"
        aria-hidden="true"
      />
    </div>
    <div class="presets" role="group" :aria-label="TEXTS.period">
      <v-btn
        v-for="name in Object.keys(presets) as Preset[]"
        :key="name"
        class="preset"
        :aria-pressed="preset === name"
        @click="take(name)"
      >
        {{ name }}
      </v-btn>
    </div>
    <p class="hidden-but-read" aria-live="polite">{{ TEXTS.periodOf(spanInWords(span)) }}</p>
  </div>
</template>

<style scoped>
.horizon {
  display: flex;
  gap: 18px;
  align-items: center;
  min-width: 0;
  height: 100%;
  padding-right: 16px;
}
.strip {
  position: relative;
  flex: 1;
  min-width: 0;
  height: 54px;
  touch-action: none;
}
.year {
  position: absolute;
  top: 0;
  height: 46px;
  padding-left: 5px;
  font-size: 11px;
  line-height: 17px;
  color: var(--ink-quiet);
  border-left: 1px solid var(--line);
  white-space: nowrap;
}
.months {
  position: absolute;
  inset: 20px 0 auto 0;
  display: flex;
}
.month {
  flex: 1 1 0;
  min-width: 0;
  height: 21px;
  margin: 0 0.5px;
  padding: 0;
  font-size: 9.5px;
  line-height: 19px;
  text-align: center;
  color: var(--ink-quiet);
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: 2px;
  cursor: pointer;
}
.month.closed {
  background: var(--month-closed);
  border-color: var(--month-closed);
  color: var(--ink);
}
.bracket {
  position: absolute;
  top: 16px;
  height: 29px;
  border: 2px solid var(--harbour);
  border-radius: 4px;
  cursor: grab;
}
.handle {
  position: absolute;
  top: 16px;
  width: 9px;
  height: 29px;
  margin-left: -4.5px;
  cursor: ew-resize;
}
.handle::after {
  content: '';
  position: absolute;
  left: 3px;
  top: 8px;
  width: 3px;
  height: 13px;
  border-radius: 2px;
  background: var(--harbour);
}
.today {
  position: absolute;
  top: 48px;
  margin-left: 2px;
  border: 4px solid transparent;
  border-top: 0;
  border-bottom-color: var(--ember);
}
.presets {
  display: flex;
  gap: 2px;
}
.presets .preset {
  padding: 0 7px;
}
.preset:not([aria-pressed='true']) {
  border-color: transparent;
  background: none;
  color: var(--ink-quiet);
}
@media (max-width: 1100px) {
  .month {
    font-size: 0;
  }
}
@media (max-width: 900px) {
  .horizon {
    flex-direction: column;
    align-items: stretch;
    gap: 0;
    padding-bottom: 6px;
  }
  .strip {
    flex: none;
  }
}
</style>
