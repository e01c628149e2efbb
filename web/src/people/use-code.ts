import { ref } from 'vue';
import { ApiProblem } from '../shell/api.ts';

/** Whether signing in takes a code as well: it is asked for once the server says so. */
export function useCode() {
  const needsCode = ref(false);
  async function asking<T>(signIn: () => Promise<T>): Promise<T> {
    try {
      return await signIn();
    } catch (error) {
      const asked = error instanceof ApiProblem && error.errors.some(({ path }) => path === 'code');
      needsCode.value ||= asked;
      throw error;
    }
  }
  return { needsCode, asking };
}
