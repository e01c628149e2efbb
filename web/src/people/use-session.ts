import { sessionOperations, type Preferences, type Role, type Session } from '@dravex/contract';
import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import { ApiProblem, setCsrfToken, sitDown, whenSignedOut } from '../shell/api.ts';
import { call } from '../shell/client.ts';

/** Who is signed in. */
export const useSession = defineStore('session', () => {
  const session = ref<Session>();
  /** Whether the server was asked already. */
  const known = ref(false);

  function take(next: Session | undefined): void {
    session.value = next;
    known.value = true;
    setCsrfToken(next?.csrfToken ?? '');
  }

  /** Asks the server who is signed in; nobody is no error. */
  async function restore(): Promise<void> {
    if (known.value) return;
    try {
      take(await call(sessionOperations.readSession, {}));
    } catch (error) {
      if (!(error instanceof ApiProblem) || error.status !== 401) throw error;
      take(undefined);
    }
  }

  /** Asks again: somebody made a workspace, or was let into one. */
  async function refresh(): Promise<void> {
    take(await call(sessionOperations.readSession, {}));
  }

  /**
   * @param code of a second factor
   * @throws ApiProblem with one message for a wrong address and a wrong password; with the path
   * `code` where one is needed as well
   */
  async function signIn(email: string, password: string, code = ''): Promise<void> {
    const next = await call(
      sessionOperations.signIn,
      {},
      { email, password, ...(code === '' ? {} : { code }) },
    );
    // Who signs in again because a session ended goes on in the same sitting.
    if (!session.value) sitDown();
    take(next);
  }

  async function signOut(): Promise<void> {
    await call(sessionOperations.signOut, {});
    take(undefined);
  }

  function roleIn(workspaceId: number): Role | undefined {
    return session.value?.workspaces.find(({ id }) => id === workspaceId)?.role;
  }

  /** Somebody has to sign in again before their requests go on. */
  const ended = ref(false);
  let waiting: ((again: boolean) => void)[] = [];
  whenSignedOut(
    () =>
      new Promise((resolve) => {
        if (!session.value) {
          resolve(false);
          return;
        }
        ended.value = true;
        waiting.push(resolve);
      }),
  );
  /** Lets the requests go on that wait for somebody to be back, or gives them up. */
  function resume(again: boolean): void {
    ended.value = false;
    for (const go of waiting) go(again);
    waiting = [];
  }

  const person = computed(() => session.value?.person);
  const preferences = computed<Preferences>(() => session.value?.preferences ?? {});
  /** Changes what the person prefers: at once here, and on every other machine from now on. */
  async function prefer(change: Preferences): Promise<void> {
    if (!session.value) return;
    session.value.preferences = { ...session.value.preferences, ...change };
    await call(sessionOperations.keepPreferences, {}, session.value.preferences);
  }
  return {
    session,
    person,
    preferences,
    prefer,
    known,
    ended,
    resume,
    restore,
    refresh,
    signIn,
    signOut,
    roleIn,
  };
});
