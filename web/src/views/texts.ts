import { type Value } from '../format/words.ts';

/** The texts of views, by the part that shows each first. */
export const TEXTS = {
  // ViewsChoice
  noneChosen: 'none chosen',
  viewsOf: (current: Value): string => `Views: ${current}`,
  views: 'Views',
  noSavedViewsYetView:
    'No saved views yet. A view holds measures, rows, columns, filter and period as they are now.',
  deleteTheView: (view: Value): string => `Delete the view ${view}`,
  nameOfThisView: 'Name of this view',
  nameOfView: 'Name of the view',
  saveView: 'Save view',
  copyLink: 'Copy link',
  savedViewItsAddressCan: (name: Value): string =>
    `Saved the view ${name}; its address can be shared`,
  deletedTheView: (name: Value): string => `Deleted the view ${name}`,
  copiedAddressOfThisView: 'Copied the address of this view',
};
