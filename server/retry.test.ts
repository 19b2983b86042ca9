import { describe, expect, it } from 'vitest';
import { retried } from './db/retry.ts';

const failing = (errno: number | undefined, times: number) => {
  let calls = 0;
  const act = async (): Promise<number> => {
    calls++;
    if (calls <= times)
      throw Object.assign(new Error('met others'), { parent: errno === undefined ? undefined : { errno } });
    return calls;
  };
  return { act, calls: () => calls };
};

describe('what is tried again', () => {
  // MariaDB's numbers for a deadlock and for a lock that was waited for too long
  it.each([1213, 1205])('is what met others, by the number %i', async (errno) => {
    expect(await retried(failing(errno, 2).act)).toBe(3);
  });

  it('is nothing else, and nothing for ever', async () => {
    const other = failing(1062, 1);
    await expect(retried(other.act)).rejects.toThrow('met others');
    expect(other.calls()).toBe(1);
    await expect(retried(failing(undefined, 1).act)).rejects.toThrow('met others');
    const stubborn = failing(1213, 100);
    await expect(retried(stubborn.act, 3)).rejects.toThrow('met others');
    expect(stubborn.calls()).toBe(3);
  });
});
