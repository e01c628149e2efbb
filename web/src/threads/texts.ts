import { type Value } from '../format/words.ts';

/** The texts of threads, by the part that shows each first. */
export const TEXTS = {
  // ThreadDialog
  comments: 'Comments',
  whatWasSaid: 'What was said',
  resolvedAnotherCommentOpensIt: 'Resolved; another comment opens it again.',
  commentCtrlEnterSavesIt: 'Comment (Ctrl+Enter saves it)',
  openAgain: 'Open again',
  resolve: 'Resolve',
  of: (whose: Value, measures: Value, where: Value, months: Value): string =>
    `${whose}: ${measures} of ${where}, ${months}`,
  commentSaved: 'Comment saved',
  resolved: 'Resolved',

  // ThreadsDialog
  allComments: 'All comments',
  nobodyHasCommentedHereRight:
    'Nobody has commented here. Right-click a number, then choose Comment.',
  resolvedLower: '(resolved)',
  everything: 'Everything',
  commentsOf: (comments: Value): string => `${comments} comments`,

  // use-threads
  allCommentsOpen: (open: Value): string => `All comments, ${open} open`,
};
