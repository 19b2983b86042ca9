import { type Browser, chromium, type Page } from 'playwright';

/** Debian's Chromium without a GPU and without asking the network for anything. */
export function launch(): Promise<Browser> {
  return chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  });
}

/** Fills the sign-in page as one of the people of the demo. */
export async function fillSignIn(page: Page, address: string, login: string): Promise<void> {
  await page.goto(`${address}/sign-in`);
  await page.getByLabel('Login').fill(login);
  await page.getByLabel('Password').fill('lantern-reef');
}

/** Signed in without the form, which has tests of its own; no page is opened. */
export async function signIn(page: Page, address: string, login: string): Promise<void> {
  const answer = await page.request.post(`${address}/api/session`, { data: { login, password: 'lantern-reef' } });
  if (!answer.ok()) throw new Error(`${login} was not signed in: ${answer.status()} ${await answer.text()}`);
}
