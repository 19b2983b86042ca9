import fc from 'fast-check';

// Property tests repeat from a fixed seed, so that a run says the same everywhere; FC_SEED and FC_RUNS look further.
fc.configureGlobal({
  seed: Number(process.env.FC_SEED ?? 20261125),
  ...(process.env.FC_RUNS && { numRuns: Number(process.env.FC_RUNS) }),
});
