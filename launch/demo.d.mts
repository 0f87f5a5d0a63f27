export interface DemoSettings {
  data: string;
  port: number;
  databasePort: number;
  benchPort: number;
  devicePort: number;
  neighbourPort: number;
  password: string;
  readerPassword: string;
  databaseUrl: string | undefined;
  site: string;
  zone: string;
  log: string;
  withPast: boolean;
  withNeighbours: boolean;
}
export interface Demo {
  readonly url: string;
  readonly databaseUrl: string;
  readonly keys: { readonly collector: string; readonly bench: string };
  readonly neighbours: readonly { readonly name: string; readonly url: string }[];
  stop(): Promise<void>;
}
export function startDemo(settings: DemoSettings): Promise<Demo>;
export function forgetDemo(settings: DemoSettings): void;
