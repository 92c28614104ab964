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

/** Prints a finding as a table and puts it into docs/benchmarks.md. */
export function report(finding: Finding): void {
  const lines = [finding.columns, finding.columns.map(() => '---'), ...finding.rows];
  const table = lines.map((cells) => `| ${cells.join(' | ')} |`).join('\n');
  console.log(`\n## ${finding.title}\n${finding.about}\n\n${table}`);
  const before = existsSync(FILE) ? readFileSync(FILE, 'utf8') : HEAD;
  const date = new Date().toISOString().slice(0, 10);
  const section = `## ${finding.title}\n\n${finding.about}\n\n_${date}; ${machine()}_\n\n${table}\n`;
  const sections = before.split(/^(?=## )/m);
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
