/** In a thread: takes as much memory as it is asked to. */
import { answerCalls } from '../platform/thread.ts';

const calls = {
  /** Holds so many megabytes of small things. @returns how many things they were */
  eat(megabytes: number): number {
    const held: number[][] = [];
    // An array of two numbers, with its place in the list, takes some 60 bytes.
    for (let count = (megabytes * 1024 ** 2) / 60; held.length < count;) held.push([0, 1.5]);
    return held.length;
  },
};

export type HungryCalls = typeof calls;

answerCalls(calls);
