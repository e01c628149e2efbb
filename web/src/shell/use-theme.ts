import { ref, watch, watchEffect } from 'vue';
import { useTheme as useVuetifyTheme } from 'vuetify';
import { useSession } from '../people/use-session.ts';

export type ThemeChoice = 'light' | 'dark' | 'system';

const KEY = 'dravex theme';

function kept(): ThemeChoice {
  const text = localStorage.getItem(KEY);
  return text === 'light' || text === 'dark' ? text : 'system';
}

/** The theme in force: light, dark, or as the system has it. This device remembers it for the sign-in. */
export const themeChoice = ref<ThemeChoice>(kept());
const dark = window.matchMedia('(prefers-color-scheme: dark)');
const systemDark = ref(dark.matches);
dark.addEventListener('change', ({ matches }) => (systemDark.value = matches));

function chooseTheme(choice: ThemeChoice): void {
  themeChoice.value = choice;
  localStorage.setItem(KEY, choice);
}

/** Whether it is night. */
export function isDark(): boolean {
  return themeChoice.value === 'dark' || (themeChoice.value === 'system' && systemDark.value);
}

/** Dresses the page in the theme that the person prefers; once, at the top. */
export function useThemeChoice(): void {
  const theme = useVuetifyTheme();
  const session = useSession();
  watch(
    () => session.preferences.theme,
    (preferred) => preferred && chooseTheme(preferred),
  );
  watchEffect(() => {
    const name = isDark() ? 'ink' : 'paper';
    theme.change(name);
    document.documentElement.dataset['theme'] = isDark() ? 'dark' : 'light';
  });
}

/** A colour by its role, for what is drawn and not styled. */
export function colour(role: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--${role}`).trim();
}
