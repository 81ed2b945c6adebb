// What the scripts share: running commands, and making a fresh machine ready.
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..');

/** How Chromium is started wherever the project starts it: as root, without a display or a network. */
export const CHROMIUM_ARGUMENTS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** Runs a command and ends the script with its code when it fails. */
export function run(command, args, env = {}) {
  console.log(`\n> ${[command, ...args].join(' ')}`);
  const { status, error } = spawnSync(command, args, {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1', ...env },
  });
  if (error) throw error;
  if (status !== 0) process.exit(status ?? 1);
}

/** A tool of the installed packages, started with this Node. */
export const runTool = (script, args, env) =>
  run(process.execPath, [join(root, 'node_modules', script), ...args], env);

/** Installs the packages of the lockfile when they are missing or older than it. */
export function install() {
  const marker = join(root, 'node_modules', '.package-lock.json');
  const lock = join(root, 'package-lock.json');
  if (existsSync(marker) && statSync(marker).mtimeMs >= statSync(lock).mtimeMs) return;
  // Not `npm ci`: the lockfile lacks optional builds for other platforms, at which `ci` stops.
  run('npm', ['install', '--no-save', '--no-audit', '--no-fund']);
}

const has = (command) => spawnSync('which', [command]).status === 0;

/** Commands of Debian packages of their own names, installed when they are missing. */
export function debian(...commands) {
  const missing = commands.filter((command) => !has(command));
  if (missing.length === 0) return;
  const sudo = process.getuid?.() === 0 ? [] : ['sudo'];
  const apt = (...args) => {
    const [command, ...rest] = [...sudo, 'apt-get', ...args];
    run(command, rest, { DEBIAN_FRONTEND: 'noninteractive' });
  };
  apt('update');
  apt('install', '-y', '--no-install-recommends', ...missing);
}

/** Debian's Chromium, installed when it is missing. @returns its path */
export function chromium() {
  debian('chromium');
  return spawnSync('which', ['chromium']).stdout.toString().trim();
}

function newest(path) {
  if (!statSync(path).isDirectory()) return statSync(path).mtimeMs;
  return Math.max(0, ...readdirSync(path).map((name) => newest(join(path, name))));
}

/** Builds the application when something in it is newer than the last build. */
export function build() {
  const marker = join(root, '.next', 'BUILD_ID');
  const inputs = [
    'src',
    'package-lock.json',
    'next.config.ts',
    'tsconfig.json',
    'scripts/workers.mjs',
    'scripts/engine.mjs',
  ];
  const changed = Math.max(...inputs.map((name) => newest(join(root, name))));
  if (existsSync(marker) && statSync(marker).mtimeMs > changed) return;
  run(process.execPath, [join(root, 'scripts/assets.mjs')]);
  runTool('next/dist/bin/next', ['build']);
}
