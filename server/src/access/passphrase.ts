import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { promisify } from 'node:util';

const derive = promisify<string, Buffer, number, { N: number; r: number; p: number; maxmem: number }, Buffer>(scrypt);

/** One check takes about 100 ms and 64 MB, so that whoever has the kept text cannot try many. */
const COST = { N: 65_536, r: 8, p: 1 };
const BYTES = 32;
export const SHORTEST = 12;

/** What is kept in place of a passphrase: its cost, salt and hash, as one text. */
export async function keepPassphrase(passphrase: string): Promise<string> {
  const salt = randomBytes(16);
  const hash = await hashOf(passphrase, salt, COST);
  return ['scrypt', COST.N, COST.r, COST.p, salt.toString('base64url'), hash.toString('base64url')].join(' ');
}

/** Whether this is the passphrase of which that was kept. */
export async function isPassphrase(passphrase: string, kept: string): Promise<boolean> {
  const [kind, n, r, p, salt, hash] = kept.trim().split(' ');
  if (kind !== 'scrypt' || !salt || !hash)
    throw new Error('What is kept of the passphrase cannot be read. Set it again with --passphrase-file.');
  const expected = Buffer.from(hash, 'base64url');
  const own = await hashOf(passphrase, Buffer.from(salt, 'base64url'), { N: Number(n), r: Number(r), p: Number(p) });
  return own.length === expected.length && timingSafeEqual(own, expected);
}

function hashOf(passphrase: string, salt: Buffer, cost: typeof COST): Promise<Buffer> {
  return derive(passphrase.normalize('NFKC'), salt, BYTES, { ...cost, maxmem: 256 * cost.N * cost.r });
}
