import { promisify } from 'node:util';
import { gunzip, gzip } from 'node:zlib';

const zip = promisify(gzip);
const unzip = promisify(gunzip);

/** What plans hold, as it is stored: gzip of JSON. */
export const packed = (value: unknown): Promise<Buffer> => zip(JSON.stringify(value));
/** What was stored so. */
export const unpacked = async <T>(stored: Buffer): Promise<T> =>
  JSON.parse((await unzip(stored)).toString('utf8')) as T;
