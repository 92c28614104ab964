import { RehearsalStage } from './rehearsal-stage.ts';

/** Most of a load is waiting for rest: as many are loaded at a time, each in a browser of its own. */
const STAGES = 3;

/** Some stages, each with one load at a time: the driver loses a browser that two begin to load in at once. */
export class StagePool {
  #free: RehearsalStage[];
  #waiting: ((stage: RehearsalStage) => void)[] = [];
  /** For what takes long without doing much. */
  #spare: RehearsalStage;
  #lastOnSpare: Promise<unknown> = Promise.resolve();

  private constructor([spare, ...stages]: [RehearsalStage, ...RehearsalStage[]]) {
    this.#spare = spare;
    this.#free = stages;
  }

  /** Opens a pool for as long as `act` takes. */
  static with<T>(act: (pool: StagePool) => Promise<T>): Promise<T> {
    const open = (spare: RehearsalStage, stages: RehearsalStage[]): Promise<T> =>
      stages.length < STAGES
        ? RehearsalStage.with((stage) => open(spare, [...stages, stage]))
        : act(new StagePool([spare, ...stages]));
    return RehearsalStage.with((spare) => open(spare, []));
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

  /** Does something that mostly waits, on a stage apart: one after the other. */
  apart<T>(act: (stage: RehearsalStage) => Promise<T>): Promise<T> {
    const done = this.#lastOnSpare.then(() => act(this.#spare));
    this.#lastOnSpare = done.catch(() => undefined);
    return done;
  }
}
