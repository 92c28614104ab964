import type { Capture } from '../src/core/measure/exchange.ts';
import { readSeed } from '../src/demo/seed-file.ts';
import { folderCapture } from '../tests/engine/made-capture.ts';

const TEMPLATES = ['agency', 'clean-blog', 'creative', 'freelancer'].map((name) => `startbootstrap-${name}`);

export interface BenchPage {
  name: string;
  capture: Capture;
  bodies: Map<string, Uint8Array>;
}

/** The demo home and general templates, as many as asked for; WISTREL_BENCH_TEMPLATES asks for another number. */
export function benchPages(wanted = TEMPLATES.length): BenchPage[] {
  const templates = Number(process.env['WISTREL_BENCH_TEMPLATES'] ?? wanted);
  const { capture, bodies } = readSeed().measure;
  return [
    { name: 'demo home', capture, bodies },
    ...TEMPLATES.slice(0, templates).map((name, index) => ({
      name: `template ${index + 1}`,
      ...folderCapture(`node_modules/${name}/dist`),
    })),
  ];
}
