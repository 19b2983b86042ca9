import { unzipText, zip } from '../gzip.ts';

/** What plans hold, as it is stored: gzip of JSON. */
export const packed = (value: unknown): Promise<Buffer> => zip(JSON.stringify(value));
/** What was stored so. */
export const unpacked = async <T>(stored: Buffer): Promise<T> => JSON.parse(await unzipText(stored)) as T;
