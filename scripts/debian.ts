import { spawnSync } from 'node:child_process';
import { Trouble } from './trouble';

const has = (command: string): boolean => spawnSync('which', [command], { stdio: 'ignore' }).status === 0;

/** Installs Debian packages, or says in one sentence why it cannot and what to do instead. */
export function installPackages(packages: readonly string[], otherwise: string): void {
  const list = packages.join(' ');
  if (!has('apt-get'))
    throw new Trouble(`${list} is missing and there is no apt-get to install it: ${otherwise}`);
  const root = process.getuid?.() === 0;
  if (!root && !(has('sudo') && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status === 0))
    throw new Trouble(`${list} is missing: run "sudo apt-get install ${list}" once, or ${otherwise}`);
  const apt = (...args: string[]) =>
    spawnSync(root ? 'apt-get' : 'sudo', root ? args : ['-n', 'apt-get', ...args], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    }).status === 0;
  console.log(`Installing ${list} from Debian’s packages …`);
  if (!apt('update') || !apt('install', '-y', '--no-install-recommends', ...packages))
    throw new Trouble(`${list} could not be installed (apt-get said why above): ${otherwise}`);
}
