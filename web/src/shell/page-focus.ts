/** Where the focus is when a page takes the place of another one. */
import { onMounted, type Ref } from 'vue';

/** How many pages were shown since the application was loaded. */
let shown = 0;

/**
 * A page's heading takes the focus when what had it went away with the page before, so that a
 * keyboard and a screen reader go on at the new page's top. The first page leaves the focus to the
 * browser: the next Tab reaches the link that skips to the room.
 */
export function useHeadingFocus(heading: Ref<HTMLElement | undefined>): void {
  onMounted(() => {
    shown += 1;
    if (shown > 1 && document.activeElement === document.body) {
      heading.value?.focus({ preventScroll: true });
    }
  });
}
