/**
 * A value that has to be there, such as a record whose id another record holds. Throws Error where it is not: that is a
 * mistake in the program, and is better met here than three calls on.
 */
export function must<T>(value: T): NonNullable<T> {
  if (value === undefined || value === null) throw new Error('Something that must be here is missing.');
  return value;
}
