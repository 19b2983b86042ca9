// A backup is what mariadb-dump writes, with a line of ours in front and one behind: what made it, and a checksum over
// all that stands before.
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import { root } from './machine.mjs';

const first = '-- Basitax backup';
const last = '-- Basitax checksum SHA-256 ';

const applicationVersion = () => JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')).version;

/** The names of the migrations that this version of Basitax knows. */
export const knownMigrations = () =>
  new Set(
    [...readFileSync(join(root, 'server/db/migrations.ts'), 'utf8').matchAll(/^\s*name: '([^']+)'/gm)].map(
      ([, name]) => name,
    ),
  );

/** Writes the first line, and the checksum behind what passes. */
export class Sealed extends Transform {
  hash = createHash('sha256');

  constructor() {
    super();
    this.#pass(
      `${first}, format 1, of Basitax ${applicationVersion()}, Node ${process.versions.node}, made at ${new Date().toISOString()}\n`,
    );
  }

  #pass(chunk) {
    this.hash.update(chunk);
    this.push(chunk);
  }

  _transform(chunk, _encoding, done) {
    this.#pass(chunk);
    done();
  }

  _flush(done) {
    this.push(`${last}${this.hash.digest('hex')}\n`);
    done();
  }
}

/** Passes a backup on, and says at the end whether it is whole. */
export class Checked extends Transform {
  isWhole = false;
  #hash = createHash('sha256');
  #tail = Buffer.alloc(0);
  #isOurs;

  _transform(chunk, _encoding, done) {
    this.#isOurs ??= chunk.subarray(0, first.length).toString('latin1') === first;
    // the checksum counts all but its own line, which may come in two pieces
    const all = Buffer.concat([this.#tail, chunk]);
    const kept = Math.min(all.length, last.length + 65);
    this.#hash.update(all.subarray(0, all.length - kept));
    this.#tail = all.subarray(all.length - kept);
    done(null, chunk);
  }

  _flush(done) {
    const text = this.#tail.toString('latin1');
    const at = text.lastIndexOf(last);
    if (this.#isOurs && at !== -1) {
      this.#hash.update(this.#tail.subarray(0, at));
      this.isWhole = text.slice(at + last.length).trim() === this.#hash.digest('hex');
    } else if (this.#isOurs === false) {
      // of before there was a checksum: the last line of a dump says that it is whole
      this.isWhole = text.includes('Dump completed');
    }
    done();
  }
}
