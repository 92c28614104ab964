import { RehearsalStage } from './rehearsal-stage.ts';

/** Most of a load is waiting for rest: as many are loaded at a time, each in a browser of its own. */
const STAGES = 4;
/** Where a page is watched on one device after the other. */
const STAGES_APART = 2;

/** Some stages, each with one load at a time: the driver loses a browser that two begin to load in at once. */
export class StagePool {
  #opened: readonly RehearsalStage[];
  #stages: Turns;
  /** For what takes long without doing much. */
  #apart: Turns;

  private constructor(opened: readonly RehearsalStage[]) {
    this.#opened = opened;
    this.#stages = new Turns(opened.slice(0, STAGES));
    this.#apart = new Turns(opened.slice(STAGES));
  }

  /** @throws Trouble when a browser does not start; those that did are closed */
  static async open(): Promise<StagePool> {
    const tried = await Promise.allSettled(
      Array.from({ length: STAGES + STAGES_APART }, () => RehearsalStage.open()),
    );
    const pool = new StagePool(tried.flatMap((one) => (one.status === 'fulfilled' ? [one.value] : [])));
    const failed = tried.find((one) => one.status === 'rejected');
    if (!failed) return pool;
    await pool.close();
    throw failed.reason;
  }

  async close(): Promise<void> {
    await Promise.all(this.#opened.map((stage) => stage.close()));
  }

  /** Does something on the next stage that is free. */
  on<T>(act: (stage: RehearsalStage) => Promise<T>): Promise<T> {
    return this.#stages.take(act);
  }

  /** Does something that mostly waits, on a stage apart. */
  apart<T>(act: (stage: RehearsalStage) => Promise<T>): Promise<T> {
    return this.#apart.take(act);
  }
}

/** Who comes first is first on a stage. */
class Turns {
  #free: RehearsalStage[];
  #waiting: ((stage: RehearsalStage) => void)[] = [];

  constructor(stages: readonly RehearsalStage[]) {
    this.#free = [...stages];
  }

  async take<T>(act: (stage: RehearsalStage) => Promise<T>): Promise<T> {
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
}
