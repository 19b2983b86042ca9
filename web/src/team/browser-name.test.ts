import { expect, it } from 'vitest';
import { browserName } from './browser-name.ts';

// what browsers call themselves: common practice, with versions from memory
it.each([
  ['Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0', 'Firefox 140 on Linux'],
  [
    'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/138.0.0.0 Safari/537.36 Edg/138.0.0.0',
    'Edge 138 on Windows',
  ],
  [
    'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) HeadlessChrome/138.0.0.0 Safari/537.36',
    'Chromium 138 on Linux',
  ],
  [
    'Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.5 Safari/605.1.15',
    'Safari 18 on Mac',
  ],
  ['curl/8.5.0', 'curl/8.5.0'],
  ['', 'no browser'],
])('%s is told as %s', (agent, said) => {
  expect(browserName(agent)).toBe(said);
});
