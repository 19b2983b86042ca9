#!/usr/bin/env node
import { pathToFileURL } from 'node:url';
import { programIfWritable } from '../../threads/program.mjs';

// who reads our output may stop before its end, as head does: that is no error
process.stdout.on('error', (error) => {
  if (error.code !== 'EPIPE') throw error;
  process.exit();
});

const path = await programIfWritable('basitax', 'cli/main.ts', 'cli/dist');
if (path === undefined) (await import('tsx/esm/api')).register();
const { main } = await import(path === undefined ? '../main.ts' : pathToFileURL(path).href);
process.exitCode = await main(process.argv.slice(2));
