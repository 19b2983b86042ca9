import variant from '@jitl/quickjs-wasmfile-release-sync';
import { newQuickJSWASMModuleFromVariant, type QuickJSContext, type QuickJSWASMModule } from 'quickjs-emscripten-core';
import { z } from 'zod';
import { modelSource } from './generated/model.ts';

/** What a script may use. */
export interface ScriptLimits {
  /** Milliseconds of the script's own, without what operations take. */
  readonly time: number;
  /** Bytes. */
  readonly memory: number;
}

export const usualLimits: ScriptLimits = { time: 10_000, memory: 96 * 1024 * 1024 };

/** Bytes of stack: what browsers give a worker, and the same elsewhere, so that a script ends everywhere alike. */
const stack = 128 * 1024;
/** WebAssembly memory never shrinks: a module that grew beyond this is let go. */
const mostKept = 48 * 1024 * 1024;

/** Why a script ended early. */
export interface SandboxFailure {
  readonly message: string;
  readonly line?: number;
  /** The node that it was about. */
  readonly node?: string;
}

let loaded: Promise<QuickJSWASMModule> | undefined;

/**
 * Runs a script in QuickJS, where it sees the model and nothing else: no network, files, clock or chance. All that goes
 * over the border is text.
 * Some single steps never yield, so that this has to run in a worker that is ended from outside after a time. Undefined
 * where the script ran through.
 */
export async function runInSandbox(
  script: string,
  host: { start(): string; answer(request: string): string; readonly spent: number },
  limits: ScriptLimits,
): Promise<SandboxFailure | undefined> {
  loaded ??= newQuickJSWASMModuleFromVariant(variant);
  const module = await loaded;
  let isWhole = false;
  try {
    const failure = runWith(module, script, host, limits);
    isWhole = failure === undefined;
    return failure;
  } finally {
    // what a script broke off in may be in any state
    if (!isWhole || module.getWasmMemory().buffer.byteLength > mostKept) loaded = undefined;
  }
}

function runWith(
  module: QuickJSWASMModule,
  script: string,
  host: { start(): string; answer(request: string): string; readonly spent: number },
  limits: ScriptLimits,
): SandboxFailure | undefined {
  const runtime = module.newRuntime();
  runtime.setMemoryLimit(limits.memory);
  runtime.setMaxStackSize(stack);
  const started = Date.now();
  runtime.setInterruptHandler(() => Date.now() - started - host.spent > limits.time);
  const context = runtime.newContext({
    intrinsics: {
      BaseObjects: true,
      Eval: true,
      StringNormalize: true,
      RegExp: true,
      JSON: true,
      Proxy: true,
      MapSet: true,
      TypedArrays: true,
      Promise: true,
    },
  });
  try {
    const call = context.newFunction('host', (request) => context.newString(host.answer(context.getString(request))));
    context.setProp(context.global, '__host', call);
    call.dispose();
    const start = context.newString(host.start());
    context.setProp(context.global, '__start', start);
    start.dispose();
    return (
      evaluate(context, modelSource, 'basitax') ??
      evaluate(context, script, scriptName) ??
      leftOver(runtime.hasPendingJob())
    );
  } finally {
    // a context that ran out of memory cannot always be taken apart; its module goes with it
    disposeQuietly(() => context.dispose());
    disposeQuietly(() => runtime.dispose());
  }
}

const scriptName = 'script.ts';

const leftOver = (hasJobs: boolean): SandboxFailure | undefined =>
  hasJobs
    ? {
        message:
          'A script runs straight through: what waits for a promise is never done. Leave out async, await and then.',
      }
    : undefined;

function disposeQuietly(dispose: () => void): void {
  try {
    dispose();
  } catch (error) {
    loaded = undefined;
    if (!(error instanceof Error)) throw error;
  }
}

const sentences: readonly (readonly [RegExp, string])[] = [
  [/^interrupted$/, 'The script took too long and was stopped; look for a loop that never ends.'],
  [
    /out of memory|string too long|invalid array length|array too large/i,
    'The script wanted more memory than it may have.',
  ],
  [/stack overflow|Maximum call stack/, 'The script calls itself too deeply.'],
];

/**
 * Evaluates text in strict mode, in a function of its own, so that its names meet none of ours. Undefined where it ran
 * through.
 */
function evaluate(context: QuickJSContext, text: string, name: string): SandboxFailure | undefined {
  const result = context.evalCode(name === scriptName ? `(function () { 'use strict'; ${text}\n})();` : text, name);
  if (!result.error) {
    result.value.dispose();
    return undefined;
  }
  const dumped = context.dump(result.error) as { name?: string; message?: string; stack?: string } | string | undefined;
  const about = aboutOf(context, result.error);
  result.error.dispose();
  if (about.stop) return undefined;
  const isObject = typeof dumped === 'object' && dumped !== null;
  const message = isObject ? String(dumped.message ?? '') : String(dumped);
  const kind =
    isObject && dumped.name !== undefined && dumped.name !== 'ScriptError' && dumped.name !== 'Error'
      ? `${dumped.name}: `
      : '';
  const line = isObject
    ? new RegExp(`\\(?${scriptName.replace('.', '\\.')}:(\\d+)`).exec(`${dumped.stack ?? ''}`)?.[1]
    : undefined;
  return {
    message:
      sentences.find(([pattern]) => pattern.test(message))?.[1] ??
      (`${kind}${message}`.slice(0, 2000) || 'The script ended with an error that says nothing.'),
    ...(line !== undefined && { line: Number(line) }),
    ...(about.node && { node: about.node }),
  };
}

// a script may have bent what says it
const aboutSchema = z
  .string()
  .transform((text, issue) => {
    try {
      return JSON.parse(text) as unknown;
    } catch {
      issue.addIssue('is no JSON');
      return z.NEVER;
    }
  })
  .pipe(z.object({ stop: z.boolean().optional(), node: z.string().nullish() }));

function aboutOf(context: QuickJSContext, error: Parameters<QuickJSContext['dump']>[0]): z.output<typeof aboutSchema> {
  const ask = context.getProp(context.global, '__about');
  try {
    if (context.typeof(ask) !== 'function') return {};
    const said = context.callFunction(ask, context.undefined, error);
    if (said.error) {
      said.error.dispose();
      return {};
    }
    const text = context.getString(said.value);
    said.value.dispose();
    return aboutSchema.safeParse(text).data ?? {};
  } finally {
    ask.dispose();
  }
}
