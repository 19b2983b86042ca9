// Hashing of passwords in threads of its own, so that it takes none from the database and the files. Plain, since a
// thread has no loader.
import { hashSync, verifySync } from '@node-rs/argon2';

/** Argon2id as OWASP advises: 19 MiB, two passes. */
const options = { memoryCost: 19456, timeCost: 2, parallelism: 1 };

export default function work({ password, stored }) {
  if (stored === undefined) return hashSync(password, options);
  try {
    return verifySync(stored, password);
  } catch {
    // a stored hash that is none fits no password
    return false;
  }
}
