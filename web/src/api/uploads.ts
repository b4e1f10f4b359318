/** Files on their way to be measured. They go on whatever station is shown, and what fails is told wherever one is. */
import { type Problem, Trouble } from "./client";

export interface Job {
  id: string;
  fitting: string;
  name: string;
  share: number;
  step: string;
  trouble: Problem | null;
  /** Try again, with more said about the file. */
  again: (more?: object) => void;
}

const listeners = new Set<() => void>();
let jobs: Job[] = [];

function keep(next: Job[]): void {
  jobs = next;
  for (const listener of listeners) listener();
}

export const uploads = (): Job[] => jobs;
export const subscribeUploads = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};
export const isUploading = () => jobs.some((j) => !j.trouble);

export function changeJob(id: string, part: Partial<Job>): void {
  keep(jobs.map((j) => (j.id === id ? { ...j, ...part } : j)));
}
export function dropJob(id: string): void {
  keep(jobs.filter((j) => j.id !== id));
}

/** Follow a file until it is measured or refused; its job stays for as long as there is something to say. */
export async function follow(
  job: Omit<Job, "share" | "step" | "trouble">,
  run: () => Promise<void>,
): Promise<void> {
  keep([...jobs.filter((j) => j.id !== job.id), { ...job, share: 0.02, step: "sending", trouble: null }]);
  try {
    await run();
    dropJob(job.id);
  } catch (error) {
    if (!(error instanceof Trouble)) {
      dropJob(job.id);
      throw error;
    }
    changeJob(job.id, { trouble: error.problem });
  }
}
