import type { ThemeDefinition } from 'vuetify';

/** The same roles by night. */
export const ink: ThemeDefinition = {
  dark: true,
  colors: {
    background: '#16191F',
    surface: '#1D212A',
    primary: '#7CC0D1',
    secondary: '#F0894A',
    success: '#62C49D',
    error: '#F0808C',
    'on-background': '#ECE9E2',
    'on-surface': '#ECE9E2',
  },
};

/** Warm paper and ink; the same roles as the custom properties in `look.css`. */
export const paper: ThemeDefinition = {
  dark: false,
  colors: {
    background: '#F6F4EF',
    surface: '#FFFFFF',
    primary: '#0F4C5C',
    secondary: '#C8500E',
    success: '#2A7F62',
    error: '#B23A48',
    'on-background': '#1F2430',
    'on-surface': '#1F2430',
  },
};
