import { USAGE } from './options.ts';

/** Those that start something, or keep it. */
const OTHERS: readonly string[] = [
  './wistrel demo [--port N] [--data DIR]',
  './wistrel start [--port N] [--data DIR]',
  './wistrel backup FILE [--data DIR]',
  './wistrel restore FILE [--data DIR]',
  './wistrel build',
  './wistrel test',
];

/** How a command is called; how all of them are, where there is no such command. */
export function usageOf(command: string | undefined): string {
  const all = [...OTHERS, ...Object.values(USAGE)];
  const own = all.filter((line) => line.split(' ')[1] === command);
  return `Usage: ${(own.length ? own : all).join('\n       ')}\n`;
}

/** Whether a call asks how it is to be made. */
export function asksForHelp(args: readonly string[]): boolean {
  return args[0] === 'help' || args.some((one) => one === '--help' || one === '-h');
}
