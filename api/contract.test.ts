import { describe, expect, it } from 'vitest';
import { contract, problemsOf } from './contract.ts';
import { allContracts } from './contracts.ts';

describe('the contracts', () => {
  it('have no address twice, and name each parameter of their path', () => {
    const addresses = allContracts.map(({ method, path }) => `${method} ${path.replace(/:\w+/g, ':')}`);
    expect(new Set(addresses).size).toBe(addresses.length);
    for (const one of allContracts) {
      const inPath = [...one.path.matchAll(/:(\w+)/g)].map(([, name]) => name);
      const shape = (one.params as { shape?: object }).shape ?? {};
      expect(Object.keys(shape).sort(), one.path).toEqual(inPath.sort());
      if (one.file) expect(inPath, one.path).toContain(one.file);
    }
  });

  it('say in words what each does, once', () => {
    for (const { about, path } of allContracts) expect(about, path).toMatch(/^[A-Z].{5,}[^.]$/);
    const said = allContracts.map(({ about }) => about);
    expect(said.filter((about, i) => said.indexOf(about) !== i)).toEqual([]);
  });
});

describe('the problems of a route', () => {
  it('follow from what it takes', () => {
    const open = contract({ method: 'get', path: '/a', about: 'Open to all' });
    expect([...problemsOf(open).keys()]).toEqual([500, 503]);
    const change = contract({ method: 'put', path: '/a', about: 'Changes', role: 'lead', seen: 'always' });
    expect([...problemsOf(change).keys()]).toEqual([400, 401, 403, 412, 422, 428, 429, 500, 503, 507]);
  });
});
