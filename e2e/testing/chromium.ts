import { type Browser, chromium, type Page } from 'playwright';

/** Debian's Chromium without a GPU and without asking the network for anything. */
export function launch(): Promise<Browser> {
  return chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
  });
}

/** Fills the sign-in page as one of the people of the demo. */
export async function fillSignIn(page: Page, address: string, login: string): Promise<void> {
  await page.goto(`${address}/sign-in`);
  await page.getByLabel('Login').fill(login);
  await page.getByLabel('Password').fill('lantern-reef');
}

export async function signIn(page: Page, address: string, login: string): Promise<void> {
  await fillSignIn(page, address, login);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL('**/files');
}
