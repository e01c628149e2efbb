/** The channel on which every server process hears of every write. */
export const CHANNEL = 'dravex';

/** The channel on which it hears how far a long write is. */
export const PROGRESS_CHANNEL = 'dravex_progress';
