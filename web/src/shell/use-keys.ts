import { onBeforeUnmount, onMounted, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { usePlan } from '../plan/use-plan.ts';
import { useTrace } from '../trace/use-trace.ts';
import { roomInSight, ROOMS } from './rooms.ts';
import { useFrame } from './use-frame.ts';

/** How long `g` waits for its numeral. */
const WAIT_MS = 1500;

/** Whether a key is meant for a field, a menu or a dialog, and not for the room. */
function inField(event: KeyboardEvent): boolean {
  if (document.querySelector('.v-overlay--active .dialog-sheet') !== null) return true;
  return isTypedInto(event.target);
}

/** Whether keys go into a field, a menu or a dialog: a grid's field only while a cell is open. */
export function isTypedInto(target: EventTarget | null): boolean {
  const element = target instanceof HTMLElement ? target : null;
  if (element?.dataset['typing'] === 'rest') return false;
  const field = 'input, textarea, select, [contenteditable], [role=dialog], .v-overlay';
  return Boolean(element?.closest(field));
}

/** Whether a key comes to the field of a table. */
function isTable(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && target.dataset['typing'] !== undefined;
}

/** Goes into the next table of the page after what has the focus, else into the first one. */
function enterTable(): boolean {
  const fields = [...document.querySelectorAll<HTMLElement>('[data-typing]')];
  const { activeElement } = document;
  const after = fields.find(
    (field) =>
      activeElement !== null &&
      activeElement !== document.body &&
      activeElement.compareDocumentPosition(field) & Node.DOCUMENT_POSITION_FOLLOWING,
  );
  const field = after ?? fields[0];
  field?.focus();
  return field !== undefined;
}

/** The keys that work in every room; `?` shows them. */
export function useKeys() {
  const plan = usePlan();
  const trace = useTrace();
  const router = useRouter();
  const route = useRoute();
  const { span, calendarSpan, setSpan } = useFrame();
  const palette = ref(false);
  const keys = ref(false);
  const help = ref(false);
  /** When `g` was pressed; a numeral soon after it goes to a room. */
  let goes = Number.NEGATIVE_INFINITY;

  /** Moves the window by its length; several in a row one after the other. */
  let moving: Promise<unknown> = Promise.resolve();
  function shift(direction: -1 | 1): void {
    moving = moving.then(() => move(direction));
  }
  async function move(direction: -1 | 1): Promise<void> {
    const { from, to } = span.value;
    const { from: first, to: last } = calendarSpan.value;
    const step = Math.min(to - from + 1, direction < 0 ? from - first : last - to);
    if (step > 0) await setSpan(from + direction * step, to + direction * step);
  }

  function withControl(event: KeyboardEvent): boolean {
    const key = event.key.toLowerCase();
    if (key === 'k') palette.value = true;
    else if (inField(event)) return false;
    else if (key === 'z' && !event.shiftKey) void plan.undo(roomInSight(route.name));
    else if (key === 'y' || key === 'z') void plan.redo(roomInSight(route.name));
    else return false;
    return true;
  }

  function plain(event: KeyboardEvent): boolean {
    const { key } = event;
    if (event.timeStamp - goes < WAIT_MS && /^\d$/.test(key)) {
      goes = Number.NEGATIVE_INFINITY;
      const room = ROOMS.find(({ numeral }) => numeral === key);
      if (room) void router.push(`/w/${plan.workspaceId}/${room.key}`);
      return true;
    }
    if (key === 'g') {
      goes = event.timeStamp;
      return true;
    }
    goes = Number.NEGATIVE_INFINITY;
    if (key === '[') shift(-1);
    else if (key === ']') shift(1);
    else if (key === '?') keys.value = true;
    else if (key === 'F1') help.value = !help.value;
    // In a table the key leaves it: that is the table's own.
    else if (key === 'F6' && !isTable(event.target)) return enterTable();
    else if (key === 'Escape' && trace.open) trace.close();
    else if (
      key === ' ' &&
      !event.shiftKey &&
      !(event.target as HTMLElement).closest('button, a, summary')
    ) {
      // A room without a trace of its own answers by itself.
      return trace.toggle();
    } else return false;
    return true;
  }

  function onKey(event: KeyboardEvent): void {
    if (event.defaultPrevented || event.altKey) return;
    const control = event.ctrlKey || event.metaKey;
    if (!control && inField(event)) return;
    if (control ? withControl(event) : plain(event)) {
      event.preventDefault();
      event.stopPropagation();
    }
  }
  // Before the grid, which takes figures as typing: `g` and a numeral go to a room.
  onMounted(() => window.addEventListener('keydown', onKey, true));
  onBeforeUnmount(() => window.removeEventListener('keydown', onKey, true));
  return { palette, keys, help };
}
