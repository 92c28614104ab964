import { RehearsalStage } from './rehearsal-stage.ts';

/** Most of a load is waiting for rest: as many are loaded at a time, each in a browser of its own. */
const STAGES = 3;

/** Some stages, each with one load at a time. */
export class StagePool {
  #all: readonly RehearsalStage[];
  #free: RehearsalStage[];
  #waiting: ((stage: RehearsalStage) => void)[] = [];

  private constructor(stages: RehearsalStage[]) {
    this.#all = stages;
    this.#free = [...stages];
  }

  /** Opens a pool for as long as `act` takes. */
  static with<T>(act: (pool: StagePool) => Promise<T>): Promise<T> {
    const open = (stages: RehearsalStage[]): Promise<T> =>
      stages.length < STAGES
        ? RehearsalStage.with((stage) => open([...stages, stage]))
        : act(new StagePool(stages));
    return open([]);
  }

  /** Does something on the next stage that is free. */
  async on<T>(act: (stage: RehearsalStage) => Promise<T>): Promise<T> {
    const stage =
      this.#free.pop() ?? (await new Promise<RehearsalStage>((ready) => this.#waiting.push(ready)));
    try {
      return await act(stage);
    } finally {
      const next = this.#waiting.shift();
      if (next) next(stage);
      else this.#free.push(stage);
    }
  }

  /** Does something that mostly waits beside what else is done on a stage. */
  beside<T>(act: (stage: RehearsalStage) => Promise<T>): Promise<T> {
    return act(this.#all[0]!);
  }
}
