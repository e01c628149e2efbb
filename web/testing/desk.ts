/** A workspace that is open in a page: its plan, its worker, its address, and a server that answers. */
import type { Role, Version, WorkspacePlan } from '@dravex/contract';
import type { Assumption, Plan } from '@dravex/core';
import { h } from 'vue';
import { createMemoryHistory, createRouter } from 'vue-router';
import { smallPlan } from '../../core/src/testing/small-plan.ts';
import { useSession } from '../src/people/use-session.ts';
import { usePlan } from '../src/plan/use-plan.ts';
import { dressed, settle, within } from './mounting.ts';
import { answering, type Asked, type Reply } from './server.ts';
import { workHere } from './worker.ts';

/** What is different from a small plan, at its beginning, that a planner looks at. */
export interface DeskParts {
  readonly assumptions?: readonly Assumption[];
  readonly plan?: Partial<Plan>;
  readonly versions?: readonly Version[];
  readonly role?: Role;
  /** The query of the address. */
  readonly at?: string;
  /** Answers what is asked besides the plan and its changes. */
  readonly reply?: (asked: Asked) => Reply | Promise<Reply>;
}

/**
 * Opens a workspace and runs a composable in one of its rooms.
 * @returns what the composable gives, and everything around it; `end` closes the page
 */
export async function desk<T>(composable: () => T, parts: DeskParts = {}) {
  const { assumptions = [], versions = [], role = 'planner', reply, at = '' } = parts;
  workHere();
  const options = dressed();
  const kept = assumptions.map((one) => ({ ...one, by: 'Mara', at: '2026-01-05T10:00:00Z' }));
  const loaded: Partial<WorkspacePlan> = {
    ...{ name: 'Small', locale: 'en-IE', revision: 1 },
    plan: { ...smallPlan([], parts.plan), assumptions: kept, adjustments: [] } as never,
  };
  /** How far the server is: whoever asks for changes after it gets none. */
  const server = { revision: 1 };
  const { asked, end } = answering((one) => {
    if (one.path.endsWith('/workspaces/1/plan')) return { body: loaded };
    if (one.path.endsWith('/versions')) return { body: versions };
    if (one.path.includes('/changes?')) {
      const none = { put: [], drop: [] };
      const { revision } = server;
      const edit = { ...none, adjustments: none, overrides: none };
      return { body: { revision, whole: false, ...edit, versions: [] } };
    }
    return reply?.(one) ?? {};
  });
  useSession().session = {
    person: { id: 1, name: 'Mara', email: 'mara@small.example' },
    workspaces: [{ id: 1, name: 'Small', role }],
    ...{ preferences: {}, layout: { widths: {}, folded: {} } },
  } as never;
  const plan = usePlan();
  if (!(await plan.open(1))) throw new Error(plan.failure);
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)*', component: { render: () => h('div') } }],
  });
  await router.push(`/w/1/room${at === '' ? '' : `?${at}`}`);
  const room = within(composable, options, router);
  await settle();
  return {
    used: room.used,
    plan,
    server,
    /** What was sent that changes something, the last last. */
    sent: (): Asked[] => asked.filter(({ method }) => method !== 'GET'),
    asked,
    query: () => router.currentRoute.value.query,
    router,
    /** How a component is mounted beside it. */
    mounting: { ...options, global: { plugins: [...options.global.plugins, router] } },
    /** Waits until everything that stands in line is done, and what follows from it is shown. */
    async done(): Promise<void> {
      await plan.inLine(() => Promise.resolve());
      await settle();
    },
    end(): void {
      room.end();
      end();
    },
  };
}
