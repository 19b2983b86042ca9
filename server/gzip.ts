import { promisify } from 'node:util';
import { gunzip, gzip } from 'node:zlib';

export const zip = promisify(gzip);
export const unzip = promisify(gunzip);
/** What was compressed, as text. */
export const unzipText = async (stored: Buffer): Promise<string> => (await unzip(stored)).toString('utf8');
