import type { ThemeDefinition } from 'vuetify';

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
