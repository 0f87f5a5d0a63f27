export interface Cluster {
  readonly url: string;
  /** With its exit code; null where it was killed. */
  readonly ended: Promise<number | null>;
  stop(): Promise<void>;
  kill(): Promise<void>;
}
export function startCluster(
  programs: string,
  dataFolder: string,
  port: number,
  options?: readonly string[],
): Promise<Cluster>;
export function clusterFolder(dataFolder: string): string;
