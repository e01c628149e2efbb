/** `npm run dev`: the sample company with the browser application rebuilt at every change, on port 4601. */
import { spawn } from 'node:child_process';
import { ensureDependencies } from './dependencies.mjs';
import { ensurePackages } from './packages.mjs';
import { ROOT } from './places.mjs';

ensurePackages({ postgres: true });
ensureDependencies();

const { openSample, serveUntilStopped, startServer } = await import('./application.mjs');
const { startCluster } = await import('./cluster.mjs');

const cluster = await startCluster('demo', { durable: true });
await serveUntilStopped(cluster, async () => {
  const databaseUrl = await openSample(cluster);
  const server = await startServer({
    databaseUrl,
    webFolder: '',
    logLevel: 'info',
    watch: true,
    allowedNetworks: '127.0.0.1',
  });
  const vite = spawn('npm', ['run', '--silent', 'dev', '-w', 'web'], {
    cwd: ROOT,
    stdio: 'inherit',
    env: { ...process.env, DRAVEX_API: `http://127.0.0.1:${server.port}` },
  });
  const stop = async () => {
    vite.kill('SIGTERM');
    await server.stop();
  };
  return { ...server, stop };
});
