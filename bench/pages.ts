import type { Capture } from '../src/core/measure/exchange.ts';
import type { RequestTiming } from '../src/core/measure/run.ts';
import { readSeed } from '../src/demo/seed-file.ts';
import { folderCapture } from '../tests/engine/made-capture.ts';

const TEMPLATES = ['agency', 'clean-blog', 'creative', 'freelancer'].map((name) => `startbootstrap-${name}`);

export interface BenchPage {
  name: string;
  capture: Capture;
  bodies: Map<string, Uint8Array>;
  /** Of a measured run; none where the page was not measured. */
  requests: readonly RequestTiming[];
}

/** The demo home and general templates, as many as asked for; WISTREL_BENCH_TEMPLATES asks for another number. */
export function benchPages(wanted = TEMPLATES.length): BenchPage[] {
  const templates = Number(process.env['WISTREL_BENCH_TEMPLATES'] ?? wanted);
  const { capture, bodies, measurement } = readSeed().measure;
  return [
    { name: 'demo home', capture, bodies, requests: measurement.runs[0]!.requests },
    ...TEMPLATES.slice(0, templates).map((name, index) => ({
      name: `template ${index + 1}`,
      ...folderCapture(`node_modules/${name}/dist`),
      requests: [],
    })),
  ];
}
