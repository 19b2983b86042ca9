import variant from '@jitl/quickjs-wasmfile-release-sync';
import {
  newQuickJSWASMModuleFromVariant,
  newVariant,
  type QuickJSContext,
  type QuickJSWASMModule,
} from 'quickjs-emscripten-core';
import { z } from 'zod';
import { modelSource } from './generated/model.ts';
import { say } from './sentences.ts';

/** What a script may use. */
export interface ScriptLimits {
  /** Milliseconds of the script's own, without what operations take. */
  readonly time: number;
  /** Milliseconds that what it asks for may take, operations and all else. */
  readonly hostTime: number;
  /** Bytes. */
  readonly memory: number;
}

export const usualLimits: ScriptLimits = { time: 10_000, hostTime: 40_000, memory: 96 * 1024 * 1024 };

/** What a script is given to talk to. */
export interface SandboxHost {
  start(): string;
  answer(request: string): string;
  /** Milliseconds that it has worked for the script. */
  readonly spent: number;
  /** It ended the script itself, which has done what was wanted of it. */
  readonly isDone: boolean;
}

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

/** Bytes in a page of WebAssembly memory (WebAssembly core specification 1.0, section 4.2.8). */
const page = 64 * 1024;
/** Pages that a module begins with, and those that it needs besides what scripts may have. */
const firstPages = 256;

let loaded: Promise<QuickJSWASMModule> | undefined;
let letGo = 0;

/** Bytes of modules that were let go in this thread: nobody can say when the memory of these is free again. */
export const sandboxMemoryLetGo = (): number => letGo;

// core is given the types of neither the browser nor Node, and both have this
declare const WebAssembly: { Memory: new (size: { initial: number; maximum: number }) => never };

/**
 * A module whose memory ends where that of scripts ends: what QuickJS counts itself are only its own objects, and no
 * array buffers.
 */
const load = (memory: number): Promise<QuickJSWASMModule> =>
  newQuickJSWASMModuleFromVariant(
    newVariant(variant, {
      wasmMemory: new WebAssembly.Memory({ initial: firstPages, maximum: firstPages + Math.ceil(memory / page) }),
    }),
  );

/**
 * Runs a script in QuickJS, where it sees the model and nothing else: no network, files, clock or chance. All that goes
 * over the border is text.
 * Some single steps never yield, so that this has to run in a worker that is ended from outside after a time. Undefined
 * where the script ran through.
 */
export async function runInSandbox(
  script: string,
  host: SandboxHost,
  limits: ScriptLimits,
): Promise<SandboxFailure | undefined> {
  loaded ??= load(usualLimits.memory);
  const module = await loaded;
  let isWhole = false;
  try {
    const failure = runWith(module, script, host, limits);
    isWhole = failure === undefined;
    return failure;
  } finally {
    // what a script broke off in may be in any state
    const bytes = module.getWasmMemory().buffer.byteLength;
    if (!isWhole || loaded === undefined || bytes > mostKept) {
      loaded = undefined;
      letGo += bytes;
    }
  }
}

function runWith(
  module: QuickJSWASMModule,
  script: string,
  host: SandboxHost,
  limits: ScriptLimits,
): SandboxFailure | undefined {
  const runtime = module.newRuntime();
  runtime.setMemoryLimit(limits.memory);
  runtime.setMaxStackSize(stack);
  const started = Date.now();
  // a script may catch it, in a function that is never awaited: it counts all the same
  let isStopped = false;
  runtime.setInterruptHandler(() => {
    isStopped ||= Date.now() - started - host.spent > limits.time || host.spent > limits.hostTime;
    return isStopped;
  });
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
    const failure = evaluate(context, modelSource, 'basitax') ?? evaluate(context, script, scriptName);
    if (host.isDone) return undefined;
    return failure ?? (isStopped ? { message: tookTooLong } : leftOver(runtime.hasPendingJob()));
  } finally {
    // a context that ran out of memory cannot always be taken apart; its module goes with it
    disposeQuietly(() => context.dispose());
    disposeQuietly(() => runtime.dispose());
  }
}

const scriptName = 'script.ts';
/** What a script defines for many files, handed to the model; most define neither. */
const end = "__end(typeof each === 'undefined' ? 0 : each, typeof all === 'undefined' ? 0 : all);";

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

const tookTooLong = 'The script took too long and was stopped; look for a loop that never ends.';
const sentences: readonly (readonly [RegExp, string])[] = [
  [/^interrupted$/, tookTooLong],
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
  const result = context.evalCode(
    name === scriptName ? `(function () { 'use strict'; ${text}\n${end}})();` : text,
    name,
  );
  if (!result.error) {
    result.value.dispose();
    return undefined;
  }
  const dumped = context.dump(result.error) as { name?: string; message?: string; stack?: string } | string | undefined;
  const about = aboutOf(context, result.error);
  result.error.dispose();
  const isObject = typeof dumped === 'object' && dumped !== null;
  const message = isObject ? String(dumped.message ?? '') : String(dumped);
  const kind =
    isObject && dumped.name !== undefined && dumped.name !== 'ScriptError' && dumped.name !== 'Error'
      ? `${dumped.name}: `
      : '';
  const line = isObject
    ? new RegExp(`\\(?${scriptName.replace('.', '\\.')}:(\\d+)`).exec(`${dumped.stack ?? ''}`)?.[1]
    : undefined;
  const source = line === undefined ? '' : (text.split('\n')[Number(line) - 1] ?? '');
  return {
    message:
      sentences.find(([pattern]) => pattern.test(message))?.[1] ??
      plainer(kind, message, source) ??
      (`${kind}${message}`.slice(0, 2000) || 'The script ended with an error that says nothing.'),
    ...(line !== undefined && { line: Number(line) }),
    ...(about.node && { node: about.node }),
  };
}

/** What the interpreter says in words of its own, with what of the line is meant. */
function plainer(kind: string, message: string, source: string): string | undefined {
  if (/^SyntaxError/.test(kind) && /\bawait\b/.test(source)) return say('awaits').message;
  if (message !== 'not a function') return undefined;
  const calls = [...source.matchAll(/([\w$.\]]+)\s*\(/g)].map(([, name = '']) =>
    name.slice(name.lastIndexOf(']') + 1).replace(/^\.+/, ''),
  );
  const called = [...new Set(calls)].filter(
    (name) => name !== '' && !/^(?:if|for|while|switch|function|return)$/.test(name),
  );
  if (called.length === 0) return undefined;
  return called.length === 1
    ? `“${called[0]}” is not a function.`
    : `One of these is not a function: ${called.map((name) => `“${name}”`).join(', ')}.`;
}

// a script may have bent what says it
const aboutSchema = z
  .string()
  .transform((text, issue) => {
    try {
      return JSON.parse(text) as unknown;
    } catch {
      issue.addIssue('is not valid JSON');
      return z.NEVER;
    }
  })
  .pipe(z.object({ node: z.string().nullish() }));

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
