import { ref, watchEffect } from 'vue';
import { useTheme as useVuetifyTheme } from 'vuetify';

export type ThemeChoice = 'paper' | 'ink' | 'system';

const KEY = 'dravex theme';

function kept(): ThemeChoice {
  const text = localStorage.getItem(KEY);
  return text === 'paper' || text === 'ink' ? text : 'system';
}

/** The theme that a person chose on this device: paper by day, ink by night, or as the system has it. */
export const themeChoice = ref<ThemeChoice>(kept());
const dark = window.matchMedia('(prefers-color-scheme: dark)');
const systemDark = ref(dark.matches);
dark.addEventListener('change', ({ matches }) => (systemDark.value = matches));

export function chooseTheme(choice: ThemeChoice): void {
  themeChoice.value = choice;
  localStorage.setItem(KEY, choice);
}

/** Whether it is night. */
export function isDark(): boolean {
  return themeChoice.value === 'ink' || (themeChoice.value === 'system' && systemDark.value);
}

/** Dresses the page in the chosen theme; once, at the top. */
export function useThemeChoice(): void {
  const theme = useVuetifyTheme();
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
