#!/usr/bin/env node
import { pathToFileURL } from 'node:url';
import { program, unwritable } from '../../threads/program.mjs';

// who reads our output may stop before its end, as head does: that is no error
process.stdout.on('error', (error) => {
  if (error.code !== 'EPIPE') throw error;
  process.exit();
});

/**
 * The command as plain JavaScript; from its sources, which takes ten times as long to start, where that cannot be
 * written.
 */
async function command() {
  try {
    return await import(pathToFileURL(await program('basitax', 'cli/main.ts', 'cli/dist')).href);
  } catch (error) {
    if (!unwritable.includes(error.cause?.code)) throw error;
    const { register } = await import('tsx/esm/api');
    register();
    return import('../main.ts');
  }
}

const { main } = await command();
process.exitCode = await main(process.argv.slice(2));
