import { type Browser, chromium } from 'playwright';

/** Debian's Chromium without a GPU and without asking the network for anything. */
export function launch(): Promise<Browser> {
  return chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
  });
}
