// Takes the addresses of the registry out of package-lock.json: versions and integrity stay, and any mirror can serve them.
import { readFileSync, writeFileSync } from 'node:fs';

const lock = JSON.parse(readFileSync('package-lock.json', 'utf8'));
for (const entry of Object.values(lock.packages))
  if (typeof entry.resolved === 'string' && entry.resolved.startsWith('http')) delete entry.resolved;
writeFileSync('package-lock.json', `${JSON.stringify(lock, null, 2)}\n`);
