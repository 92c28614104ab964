import { BaseSequencer, type TestSpecification } from 'vitest/node';

/** Files that take longest: begun last, they would run alone at the end. */
const LONGEST = ['whole-path', 'command-line', 'survival', 'rehearse', 'whole-way'];

/** Begins files that take long before the others, where several run at a time. */
export class LongestFirst extends BaseSequencer {
  override sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const rank = ({ moduleId }: TestSpecification) => {
      const at = LONGEST.findIndex((name) => moduleId.endsWith(`/${name}.test.ts`));
      return at < 0 ? LONGEST.length : at;
    };
    return Promise.resolve([...files].sort((a, b) => rank(a) - rank(b)));
  }
}
