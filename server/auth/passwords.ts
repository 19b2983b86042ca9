import { dictionary } from '@zxcvbn-ts/language-common';
import { HttpProblem } from '../http/problem.ts';

const common: ReadonlySet<string> = new Set(dictionary.passwords);

/** What remains of a password when its pattern is taken away: how many different characters it has. */
const fewest = 5;

/** Ascending or descending by one, all along: 123456789012, zyxwvutsrqpo. */
function isRow(text: string): boolean {
  const steps = Array.from(text.slice(1), (sign, i) => sign.charCodeAt(0) - text.charCodeAt(i));
  const [first] = steps;
  // after the nine comes the nought
  return (first === 1 || first === -1) && steps.every((step) => step === first || Math.abs(step) === 9);
}

/**
 * Throws HttpProblem 422 where a password is among those that are guessed first (the list of the package
 * @zxcvbn-ts/language-common), or no more than a row, a repetition or the login (OWASP ASVS 4.0.3, 2.1.7).
 */
export function checkPassword(password: string, login: string): void {
  const plain = password.toLowerCase();
  const isGuessed =
    [0, 1, 2, 3].some((behind) => common.has(plain.slice(0, plain.length - behind))) ||
    common.has(plain.replace(/[\d\W_]+$/, '')) ||
    new Set(plain).size < fewest ||
    isRow(plain) ||
    plain.replaceAll(login.toLowerCase(), '').length < 6;
  if (isGuessed)
    throw new HttpProblem(
      422,
      'Refused',
      'This password is easy to guess. Choose another one, for example a few unrelated words.',
    );
}
