import { didYouMean } from '../../closest.ts';
import { ScriptError } from './store.ts';

// Runs inside the sandbox: a name that a thing does not have is an error, not undefined or a property that nobody reads.

/** Names that the language itself asks of any object. */
const asked: ReadonlySet<string> = new Set(['toJSON', 'then', 'inspect']);

/** The names that a thing has, its own and those of its class. */
function namesOf(thing: object): string[] {
  const own = Object.getPrototypeOf(thing) as object;
  return [thing, own]
    .filter((one) => !guards.has(one))
    .flatMap((one) => Object.getOwnPropertyNames(one))
    .filter((name) => name !== 'constructor' && name !== 'row');
}

const guards = new WeakSet<object>();
const guardBy = new Map<string, object>();

/** What stands behind all things of a sort: whatever was not found before is refused there. */
function guardOf(what: string): object {
  const known = guardBy.get(what);
  if (known) return known;
  const refuse = (name: string, thing: object): never => {
    const id = 'id' in thing ? String(thing.id) : undefined;
    throw new ScriptError(`${what} has no “${name}”.${didYouMean(name, namesOf(thing))}`, id);
  };
  const guard = new Proxy(Object.prototype, {
    get: (target, name, thing: object) =>
      typeof name === 'symbol' || name in target || asked.has(name)
        ? (Reflect.get(target, name, thing) as unknown)
        : refuse(name, thing),
    set: (_target, name, _value, thing: object) => refuse(String(name), thing),
  });
  guards.add(guard);
  guardBy.set(what, guard);
  return guard;
}

/**
 * A thing, or the prototype of many, that refuses names which it does not have, with the name that was probably meant.
 * What it has costs nothing more.
 */
export const strict = <T extends object>(thing: T, what: string): T => Object.setPrototypeOf(thing, guardOf(what)) as T;
