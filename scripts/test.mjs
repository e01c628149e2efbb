/**
 * `npm test`: sets up whatever is missing and runs everything: format, lint with the layer rule,
 * types, unit and server tests, and whole tasks in the browser. Ends with the totals of all of it.
 * `npm test -- unit` or `-- browser` runs one part.
 */
import { spawn } from 'node:child_process';
import { ensureDependencies } from './dependencies.mjs';
import { ensurePackages } from './packages.mjs';
import { ROOT } from './places.mjs';

const only = process.argv[2];
const wants = (/** @type {string} */ part) => only === undefined || only === part;

ensurePackages({ postgres: true, chromium: wants('browser') });
ensureDependencies();

const { startCluster } = await import('./cluster.mjs');
const { ensureBuilt, makeTemplate, TEMPLATE } = await import('./application.mjs');

const totals = { passed: 0, failed: 0 };

/** What went wrong, said once more at the end: a log of a run is often cut to its last lines. */
const complaints = /** @type {string[]} */ ([]);
/** As much of each complaint as tells which test it is and what it met. */
const COMPLAINT_LENGTH = 6000;
const LONG_LINE = /^(.{300}).+$/gm;

/**
 * Runs a command, shows what it prints, and gives back its exit code and text.
 * @param {string} command
 * @param {string[]} args
 * @param {Record<string, string>} [environment]
 * @returns {Promise<{ code: number, text: string }>}
 */
function run(command, args, environment = {}) {
  return new Promise((resolve) => {
    const child = spawn(command, args, {
      cwd: ROOT,
      env: { ...process.env, ...environment },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let text = '';
    for (const stream of [child.stdout, child.stderr]) {
      stream.on('data', (/** @type {Buffer} */ chunk) => {
        text += chunk.toString();
        process.stdout.write(chunk);
      });
    }
    child.on('close', (code) => resolve({ code: code ?? 1, text }));
  });
}

/**
 * A check that passes or fails as a whole.
 * @param {string} name
 * @param {string} command
 * @param {string[]} args
 */
async function check(name, command, args) {
  const { code, text } = await run(command, args);
  if (code === 0) totals.passed += 1;
  else {
    totals.failed += 1;
    complaints.push(`${name}\n${text.slice(-COMPLAINT_LENGTH)}`);
  }
  console.log(`${code === 0 ? 'passed' : 'FAILED'}: ${name}`);
}

/**
 * A test runner that counts for itself. One that ends badly without a failed test counts as one.
 * @param {{ code: number, text: string }} ended
 * @param {RegExp} passed
 * @param {RegExp} failed
 */
function count({ code, text }, passed, failed) {
  const sum = (/** @type {RegExp} */ pattern) =>
    [...text.matchAll(pattern)].reduce((all, match) => all + Number(match[1]), 0);
  const failures = sum(failed);
  totals.passed += sum(passed);
  totals.failed += failures === 0 && code !== 0 ? 1 : failures;
  if (failures === 0 && code === 0) return;
  const from = text.search(failed);
  // One long line, such as what a property test was given, does not hide the failures after it.
  const lines = from < 0 ? text : text.slice(from).replace(LONG_LINE, '$1 …');
  complaints.push(from < 0 ? lines.slice(-COMPLAINT_LENGTH) : lines.slice(0, COMPLAINT_LENGTH));
}

const bin = (/** @type {string} */ name) => `${ROOT}/node_modules/.bin/${name}`;

const cluster =
  wants('unit') || wants('browser') ? await startCluster('test', { durable: false }) : null;

/** @returns {(() => Promise<void>)[]} */
function checks() {
  return [
    () => check('types of web', bin('vue-tsc'), ['-p', `${ROOT}/web`]),
    () => check('types of tests of the interface', bin('vue-tsc'), ['-p', `${ROOT}/web/testing`]),
    () => check('format', bin('prettier'), ['--check', '--log-level', 'warn', '.']),
    () => check('lint and layer rule', bin('eslint'), ['.', '--max-warnings', '0']),
    () =>
      check('types of tests, tasks, bench, scripts', bin('tsc'), [
        '-p',
        `${ROOT}/tsconfig.tests.json`,
      ]),
    // What runs in Node alone is one program: each of them reads most of the others' sources.
    () =>
      check('types of server, cli, sample, standins', bin('tsc'), [
        '-p',
        `${ROOT}/tsconfig.node.json`,
      ]),
    () => check('types of core', bin('tsc'), ['-p', `${ROOT}/core`]),
    () => check('types of contract', bin('tsc'), ['-p', `${ROOT}/contract`]),
  ];
}

/** The tests of components and of what needs a page, built as the application is. */
async function buildPageTests() {
  await run(bin('vite'), ['build', '-c', 'web/testing/vite.config.ts']);
}

/** A machine that others use too stands still at times; nothing is measured here. */
const PATIENCE = '--timeout=120000';
/** What runs beside each other: each keeps one core busy, and the machine has two. */
const LANES = 2;
try {
  const work = [
    ...(cluster ? [() => makeTemplate(cluster)] : []),
    ...(wants('browser') ? [ensureBuilt] : []),
    ...(wants('unit') ? [buildPageTests] : []),
    ...(wants('checks') ? checks() : []),
  ];
  const lane = async () => {
    for (let next = work.shift(); next; next = work.shift()) await next();
  };
  await Promise.all(Array.from({ length: LANES }, lane));

  const environment = { TEST_ADMIN_URL: cluster?.url('postgres') ?? '', TEST_TEMPLATE: TEMPLATE };
  if (wants('unit')) {
    const ended = await run(
      bin('mocha'),
      [
        '--import=tsx',
        '--exit',
        '--parallel',
        // One more than there are cores: tests wait for the database now and then.
        `--jobs=${LANES + 1}`,
        PATIENCE,
        '--ignore=**/*.page.test.ts',
        '{core,contract,server,web,cli,sample}/src/**/*.test.ts',
        'scripts/*.test.ts',
      ],
      environment,
    );
    count(ended, /(\d+) passing/g, /(\d+) failing/g);
    const pages = [
      '--import=./web/testing/page.mjs',
      '--exit',
      PATIENCE,
      'web/testing/dist/*.page.test.js',
    ];
    count(await run(bin('mocha'), pages), /(\d+) passing/g, /(\d+) failing/g);
  }
  if (wants('browser')) {
    const ended = await run(bin('playwright'), ['test', '-c', `${ROOT}/e2e`], environment);
    count(ended, /^\s+(\d+) passed/gm, /^\s+(\d+) failed/gm);
  }
} finally {
  cluster?.stop();
}

for (const complaint of complaints) console.log(`\nFAILED: ${complaint}`);
console.log(`${totals.passed} passed, ${totals.failed} failed`);
process.exit(totals.failed === 0 && totals.passed > 0 ? 0 : 1);
