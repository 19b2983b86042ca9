#!/usr/bin/env node
import { register } from 'tsx/esm/api';

// who reads our output may stop before its end, as head does: that is no error
process.stdout.on('error', (error) => {
  if (error.code !== 'EPIPE') throw error;
  process.exit();
});

register();
const { main } = await import('../main.ts');
process.exitCode = await main(process.argv.slice(2));
