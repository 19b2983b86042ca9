import type { ParameterSpec } from '../document/catalogue.ts';
import type { Json } from '../document/json.ts';

const mostShown = 3;
const short = (value: Json): string => {
  const text = typeof value === 'string' ? value : JSON.stringify(value);
  return text.length > 30 ? `${text.slice(0, 28)}…` : text;
};
const rounded = (number: number): string => String(Number(number.toPrecision(6)));

/** What files were seen to hold in a parameter, as people say it; undefined where it was not learned. */
export function seenWords({ seen }: ParameterSpec): string | undefined {
  if (!seen) return undefined;
  const range =
    seen.from === undefined || seen.to === undefined
      ? undefined
      : seen.from === seen.to
        ? `always ${rounded(seen.from)}`
        : `${rounded(seen.from)} to ${rounded(seen.to)}`;
  const usual = seen.usual.slice(0, mostShown).map(short).join(', ');
  const often = usual === '' || (seen.from !== undefined && seen.from === seen.to) ? '' : `most often ${usual}`;
  return [`set on ${seen.nodes} of ${seen.of} nodes`, range, often].filter(Boolean).join(', ');
}

/** What is known of a parameter, in a few words: its type, unit, and what files hold of it. */
export const parameterWords = (spec: ParameterSpec): string =>
  [spec.type, spec.unit, seenWords(spec)].filter(Boolean).join(', ');
