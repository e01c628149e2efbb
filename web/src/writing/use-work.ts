import { defineStore } from 'pinia';
import { reactive, ref } from 'vue';

/** Something that takes a while: the foot shows it in every room, with how far it is. */
export interface Work {
  readonly name: string;
  /** From 0 to 1; undefined while nobody can say. */
  share: number | undefined;
  /** How much has arrived, in bytes, of what nobody knows the size of. */
  arrived: number | undefined;
  /** Stops it; undefined where that is not possible. */
  stop: (() => void) | undefined;
}

/** What is under way, wherever one is. */
export const useWork = defineStore('work', () => {
  const list = ref<Work[]>([]);

  /** Does something long; what it is called, how far it is and how to stop it can be said meanwhile. */
  async function during<T>(name: string, work: (said: Work) => Promise<T>): Promise<T> {
    const said = reactive<Work>({ name, share: undefined, arrived: undefined, stop: undefined });
    list.value = [...list.value, said];
    try {
      return await work(said);
    } finally {
      list.value = list.value.filter((one) => one !== said);
    }
  }
  return { list, during };
});
