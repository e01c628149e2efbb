import { type Value } from '../format/words.ts';

/** The texts of kit, by the part that shows each first. */
export const TEXTS = {
  // Drawer
  close: (heading: Value): string => `Close: ${heading}`,
};
