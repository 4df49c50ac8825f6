import { chmodSync, existsSync, readFileSync, writeFileSync } from 'node:fs';
import { networkInterfaces } from 'node:os';
import { join, resolve } from 'node:path';
import { Halt } from './places.mjs';

const EVERY = ['0.0.0.0', '::'];

/**
 * Who may come in: what is kept of the passphrase (null where nobody has to sign in), and the files for TLS. Halts where others than
 * this machine would reach a server that asks nobody for anything.
 */
export async function doorOf(options, data) {
  const { isLoopback, keepPassphrase, SHORTEST } = await import('../server/dist/access/index.js');
  const keptFile = join(data, 'passphrase.scrypt');
  const given = options['passphrase-file'];
  if (given) {
    const passphrase = readable(given, '--passphrase-file').split(/\r?\n/)[0].trim();
    if (passphrase.length < SHORTEST) throw new Halt(`The passphrase in ${given}, its first line, has fewer than ${SHORTEST} characters.`);
    writeFileSync(keptFile, await keepPassphrase(passphrase), { mode: 0o600 });
    chmodSync(keptFile, 0o600);
  }
  const isOpen = !isLoopback(options.host);
  if (isOpen && !existsSync(keptFile))
    throw new Halt(
      `Others reach ${options.host} too, so a passphrase is needed: write it into a file of one line, and give that with --passphrase-file FILE. What is kept of it serves later starts as well.`,
    );
  const [cert, key] = [options['tls-cert'], options['tls-key']];
  if (Boolean(cert) !== Boolean(key)) throw new Halt('TLS needs both --tls-cert FILE and --tls-key FILE.');
  if (cert) [cert, key].forEach((file) => readable(file, 'TLS'));
  else if (isOpen)
    console.error('Warning: without --tls-cert and --tls-key everybody on the way can read the passphrase and all that is shown.');
  return {
    passphrase: isOpen || given ? readFileSync(keptFile, 'utf8') : null,
    tls: cert ? ['--tls-cert', resolve(cert), '--tls-key', resolve(key)] : [],
    scheme: cert ? 'https' : 'http',
  };
}

/** The addresses under which a page of this server can be opened. */
export function addressesOf(scheme, host, port) {
  const own = EVERY.includes(host)
    ? Object.values(networkInterfaces()).flatMap((rows) => rows.filter(({ family }) => family === 'IPv4').map(({ address }) => address))
    : [host];
  return own.map((name) => `${scheme}://${name.includes(':') ? `[${name}]` : name}:${port}/`);
}

function readable(file, what) {
  try {
    return readFileSync(file, 'utf8');
  } catch (error) {
    throw new Halt(`The file for ${what}, ${file}, cannot be read: ${error.message}`);
  }
}
