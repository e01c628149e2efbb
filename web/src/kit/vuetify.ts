import { createVuetify } from 'vuetify';
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg';
import { ink, paper } from './theme.ts';

/**
 * Vuetify as Dravex wears it: dense, outlined, without ripples. What a control looks like is said
 * here and in `controls.css`; rooms say what it is for:
 *
 * - `<v-btn>` is a choice or an action; with `color="primary"` one of a dialog's or a room's actions,
 *   with `variant="flat"` besides the main one; `variant="plain"` is a link that does something, and
 *   `variant="text"` has no frame;
 * - what can be chosen has a `name` and a `value`, unless a room says otherwise;
 * - a field's `label` stands above it, its messages below.
 * @param nonce what the page's security policy asks of styles
 */
export function dravexVuetify(nonce?: string) {
  return createVuetify({
    icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
    theme: {
      defaultTheme: 'paper',
      themes: { paper, ink },
      ...(nonce === undefined ? {} : { cspNonce: nonce }),
    },
    defaults: {
      VBtn: { variant: 'outlined', ripple: false, size: 'small' },
      VTextField: FIELD,
      VTextarea: { ...FIELD, rows: 3, autoGrow: true },
      VSelect: { ...FIELD, itemTitle: 'name', menuProps: { maxHeight: 360 } },
      VAutocomplete: {
        ...FIELD,
        itemTitle: 'name',
        autoSelectFirst: true,
        menuProps: { maxHeight: 360 },
      },
      VFileInput: { ...FIELD, prependIcon: '', prependInnerIcon: '$file' },
      VCheckbox: { density: 'compact', hideDetails: 'auto', ripple: false, color: 'primary' },
      VRadioGroup: { density: 'compact', hideDetails: 'auto' },
      VRadio: { density: 'compact', ripple: false, color: 'primary' },
      VTabs: { density: 'compact', height: 28, sliderColor: 'secondary' },
      VTab: { ripple: false },
      VList: { density: 'compact', slim: true },
      VListItem: { ripple: false, minHeight: 28 },
      VMenu: { offset: 4 },
      VTable: { density: 'compact' },
      VTooltip: { location: 'bottom', openDelay: 300, maxWidth: 320 },
    },
  });
}

const FIELD = {
  variant: 'outlined',
  density: 'compact',
  hideDetails: 'auto',
  persistentPlaceholder: true,
  color: 'primary',
} as const;
