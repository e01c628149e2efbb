import type { Operation } from '../operation.ts';
import { MAY, ROLES } from './people.ts';

type Api = Readonly<Record<string, Readonly<Record<string, Operation>>>>;

const WORDS: Readonly<Record<Operation['access'], string>> = {
  anybody: 'anybody',
  signedIn: 'whoever is signed in',
  reports: 'a token',
  part: 'everybody, of what is theirs',
  reads: MAY.reads.join(', '),
  plans: MAY.plans.join(', '),
  owns: MAY.owns.join(', '),
};

/** The page `docs/roles.md`: what each role may, from the list of everything the API does. */
export function rolesPage(api: Api): string {
  const row = (cells: readonly string[]): string => `| ${cells.join(' | ')} |`;
  const tick = (may: boolean): string => (may ? 'yes' : '');
  const kinds = Object.entries(MAY);
  const table = [
    row(['', ...ROLES]),
    row(['---', ...ROLES.map(() => '---')]),
    ...kinds.map(([kind, may]) => row([kind, ...ROLES.map((role) => tick(may.includes(role)))])),
  ];
  const routes = Object.entries(api).flatMap(([room, operations]) => [
    `\n### ${room}\n`,
    row(['', '', 'who may']),
    row(['---', '---', '---']),
    ...Object.values(operations).map(({ method, path, summary, access }) =>
      row([`\`${method.toUpperCase()} ${path}\``, summary.replaceAll('|', '/'), WORDS[access]]),
    ),
  ]);
  return [
    '# Who may what',
    '',
    'Made from the code by `npm run schema`; a test holds the two to each other, and tries every route as every role. An owner plans and says who may enter; a planner reads and writes all of the plan, a reader reads it; a manager sees and divides the own part of the targets, a contributor sees it; both fill in the budget sheets that are handed out to them, and see nothing else. Of what somebody has a part of, the services look more closely: see [roles and parts](decisions/roles.md).',
    '',
    ...table,
    '',
    'Who may make workspaces is a setting of the installation (`MAKE_WORKSPACES`): owners, where nothing else is said.',
    ...routes,
    '',
  ].join('\n');
}
