import { capturesBench } from './captures.ts';
import { checksBench } from './checks.ts';
import { foldBench, foldScalingBench } from './fold.ts';
import { hostileBench } from './hostile.ts';
import { lighterBench } from './lighter.ts';
import { memoryBench } from './memory.ts';
import { nextPageBench } from './next-page.ts';
import { observingBench, spreadBench } from './measuring.ts';
import { floorBench, gainOnLaptop, gainOnPhone } from './path.ts';
import { machine, report, type Finding } from './report.ts';
import { selfBench } from './self.ts';
import { selfPageBench } from './self-page.ts';
import { shaperBench } from './shaper.ts';
import { slowdownBench } from './slowdown.ts';
import { stagesBench } from './stages.ts';
import { survivalBench } from './survival.ts';
import { treatedBench } from './treated.ts';
import { wheelBench } from './wheel.ts';

/** npm run bench [-- NAME …]: those that take minutes by default, `checks`, `next-page`, `self`, `survival` and `treated` by hand (half an hour each, `next-page` a quarter, `self` two hours). */
const BENCHES: Record<string, () => Promise<Finding>> = {
  shaper: shaperBench,
  slowdown: slowdownBench,
  spread: spreadBench,
  observing: observingBench,
  memory: memoryBench,
  stages: stagesBench,
  fold: foldBench,
  'fold-scaling': foldScalingBench,
  lighter: lighterBench,
  gain: gainOnPhone,
  'gain-laptop': gainOnLaptop,
  floor: floorBench,
  wheel: wheelBench,
  captures: capturesBench,
  hostile: hostileBench,
  'self-page': selfPageBench,
  'next-page': nextPageBench,
  checks: checksBench,
  treated: treatedBench,
  self: selfBench,
  survival: survivalBench,
};
const BY_HAND = new Set(['checks', 'next-page', 'self', 'survival', 'treated']);

const wanted = process.argv.slice(2);
for (const name of wanted) {
  if (BENCHES[name]) continue;
  console.error(`There is no benchmark “${name}”: choose from ${Object.keys(BENCHES).join(', ')}.`);
  process.exit(2);
}
console.log(machine());
for (const [name, bench] of Object.entries(BENCHES))
  if (wanted.length ? wanted.includes(name) : !BY_HAND.has(name)) report(await bench());
process.exit(0);
