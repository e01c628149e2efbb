import { readsAllOf } from '@dravex/contract';
import { monthText } from '@dravex/core';
import { createRouter, createWebHistory, type RouteLocationNormalized } from 'vue-router';
import { WORDS } from '../format/words.ts';
import { useSession } from '../people/use-session.ts';
import { usePlan } from '../plan/use-plan.ts';
import { OF_A_PART, ROOMS, SETTINGS, WITHIN } from './rooms.ts';
import { TEXTS } from './texts.ts';
import { presetsOf } from './use-frame.ts';

/** What stays in the address when one goes to another room. */
const EVERYWHERE = [
  'from',
  'to',
  'scope',
  'unit',
  'grain',
  'measure',
  'rows',
  'columns',
  'version',
  'origin',
];

/** The pages of the rooms, each in a file of its own that is loaded when it is needed. */
const PAGES = {
  frame: () => import('./Frame.vue'),
  standing: () => import('../standing/StandingRoom.vue'),
  actuals: () => import('../actuals/ActualsRoom.vue'),
  drivers: () => import('../drivers/DriversRoom.vue'),
  forecast: () => import('../forecast/ForecastRoom.vue'),
  targets: () => import('../targets/TargetsRoom.vue'),
  budget: () => import('../budgets/BudgetRoom.vue'),
  sheets: () => import('../sheets/SheetsRoom.vue'),
  comparison: () => import('../comparison/ComparisonRoom.vue'),
  closing: () => import('../closing/ClosingRoom.vue'),
  settings: () => import('../settings/SettingsRoom.vue'),
  dimensions: () => import('../dimensions/DimensionsRoom.vue'),
  access: () => import('../reporting/AccessRoom.vue'),
  audit: () => import('../people/AuditRoom.vue'),
  connections: () => import('../connections/ConnectionsRoom.vue'),
};

const TITLES: Readonly<Record<string, string>> = {
  sheets: WORDS.budgetSheets,
  settings: TEXTS.settings,
  dimensions: WORDS.dimensions,
  connections: WORDS.connections,
  access: TEXTS.reportingAccess,
  audit: WORDS.auditLog,
  closed: TEXTS.secondFactor,
  start: TEXTS.newWorkspace,
  'sign-in': TEXTS.signIn,
  password: TEXTS.chooseAPassword,
};

function isPage(name: unknown): name is keyof typeof PAGES {
  return typeof name === 'string' && name in PAGES;
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    {
      path: '/password/:token',
      name: 'password',
      component: () => import('../people/ChoosePassword.vue'),
    },
    { path: '/sign-in', name: 'sign-in', component: () => import('../people/SignIn.vue') },
    {
      path: '/w/:workspaceId(\\d+)',
      component: PAGES.frame,
      redirect: (to) => `${to.path}/standing`,
      children: [
        ...[...ROOMS.map(({ key }) => key), ...SETTINGS].map((key) => ({
          path: key,
          name: key,
          component: PAGES[key],
        })),
        ...(Object.keys(WITHIN) as (keyof typeof WITHIN)[]).map((key) => ({
          path: `${key}/:id?`,
          name: key,
          component: PAGES[key],
        })),
      ],
    },
    {
      path: '/closed/:id(\\d+)',
      name: 'closed',
      component: () => import('../people/ClosedPage.vue'),
    },
    { path: '/start', name: 'start', component: () => import('../start/StartPage.vue') },
    { path: '/:rest(.*)*', name: 'nowhere', component: () => import('./Nowhere.vue') },
  ],
});

/** Fills what the address lacks, so that every place can be shared as it is seen. */
function completed(to: RouteLocationNormalized): RouteLocationNormalized['query'] | undefined {
  const { workspace } = usePlan();
  if (!workspace || (to.query['from'] && to.query['to'])) return undefined;
  const year = presetsOf(workspace.plan.calendar)['This year'];
  return { ...to.query, from: monthText(year.from), to: monthText(year.to) };
}

router.beforeEach(async (to, from) => {
  // A link by which somebody chooses a password opens for whoever has it.
  if (to.name === 'password') return true;
  const session = useSession();
  // The page is fetched while the server is asked who this is and what the plan holds; from the
  // sign-in on, it is the one that most people see next.
  void PAGES.frame();
  void PAGES[isPage(to.name) ? to.name : 'standing']();
  await session.restore();
  if (to.name === 'sign-in') return session.person ? '/' : true;
  if (!session.person) return { name: 'sign-in', query: { next: to.fullPath } };
  const [first] = session.session?.workspaces ?? [];
  if (to.path === '/') {
    const { firstRoom } = session.preferences;
    const room = ROOMS.find(({ key }) => key === firstRoom)?.key ?? 'standing';
    return first ? `/w/${first.id}/${room}` : '/start';
  }
  const id = Number(to.params['workspaceId']);
  if (!id) return true;
  const isClosed = session.session?.workspaces.some((one) => one.id === id && one.closed);
  if (isClosed) return { name: 'closed', params: { id } };
  if (!(await usePlan().open(id)))
    return to.name === 'nowhere' ? true : { name: 'nowhere', params: { rest: ['closed'] } };
  if (!readsAllOf(session.roleIn(id)) && !OF_A_PART.has(String(to.name))) {
    // Whoever gives numbers begins with their sheets, whoever divides targets with those.
    const begins = session.roleIn(id) === 'contributor' ? 'sheets' : 'targets';
    return { path: `/w/${id}/${begins}` };
  }
  const carried = Object.fromEntries(
    Object.entries(from.query).filter(([name]) => EVERYWHERE.includes(name)),
  );
  const moved =
    from.params['workspaceId'] === to.params['workspaceId'] && Object.keys(to.query).length === 0;
  if (moved && Object.keys(carried).length > 0) return { ...to, query: carried };
  const query = completed(to);
  return query ? { ...to, query, replace: true } : true;
});

/** The name of the room, the workspace and the application, for tabs and histories of browsers. */
router.afterEach((to) => {
  const room = ROOMS.find(({ key }) => key === to.name)?.name ?? TITLES[String(to.name)];
  const names = [room, usePlan().workspace?.name, WORDS.dravex];
  document.title = names.filter((name) => name !== undefined).join(' · ');
});
