import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { cpus, totalmem } from 'node:os';

/** What one benchmark found. */
export interface Finding {
  title: string;
  /** What is measured, and what it has to come to. */
  about: string;
  columns: string[];
  rows: (string | number)[][];
}

const FILE = 'docs/benchmarks.md';
const HEAD = `# Benchmarks

What \`npm run bench\` printed. Each section is replaced when its benchmark is run again; \`npm run bench -- NAME\` runs one.
`;

/** The machine in one line: figures are worth nothing without it. */
export function machine(): string {
  const processors = cpus();
  return `${processors[0]?.model.trim() ?? 'unknown processor'}, ${processors.length} cores, ${Math.round(totalmem() / 1e9)} GB, Node ${process.version}`;
}

/** Processor time so far, and how much of it the host of a virtual machine took: clock ticks. */
function ticks(): { total: number; taken: number } {
  try {
    const fields = /^cpu\s+(.+)$/m.exec(readFileSync('/proc/stat', 'utf8'))![1]!.split(/\s+/).map(Number);
    return { total: fields.slice(0, 8).reduce((sum, one) => sum + one, 0), taken: fields[7] ?? 0 };
  } catch {
    return { total: 0, taken: 0 };
  }
}

let before = ticks();

/** What share of the processor time the host took since the last finding: figures suffer from it. */
function takenByHost(): string {
  const now = ticks();
  const share = (now.taken - before.taken) / Math.max(1, now.total - before.total);
  before = now;
  return `${Math.round(100 * share)} % of the processor time taken by the machine’s host meanwhile`;
}

/** Prints a finding as a table and puts it into docs/benchmarks.md. */
export function report(finding: Finding): void {
  const lines = [finding.columns, finding.columns.map(() => '---'), ...finding.rows];
  const table = lines.map((cells) => `| ${cells.join(' | ')} |`).join('\n');
  console.log(`\n## ${finding.title}\n${finding.about}\n\n${table}`);
  const known = existsSync(FILE) ? readFileSync(FILE, 'utf8') : HEAD;
  const date = new Date().toISOString().slice(0, 10);
  const section = `## ${finding.title}\n\n${finding.about}\n\n_${date}; ${machine()}; ${takenByHost()}_\n\n${table}\n`;
  const sections = known.split(/^(?=## )/m);
  const at = sections.findIndex((one) => one.startsWith(`## ${finding.title}\n`));
  if (at >= 0) sections[at] = `${section}\n`;
  else sections.push(`\n${section}`);
  writeFileSync(
    FILE,
    `${sections
      .join('')
      .trimEnd()
      .replace(/\n{3,}/g, '\n\n')}\n`,
  );
}
