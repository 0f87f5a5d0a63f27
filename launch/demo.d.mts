export interface DemoSettings {
  data: string;
  port: number;
  databasePort: number;
  benchPort: number;
  devicePort: number;
  password: string;
  readerPassword: string;
  databaseUrl: string | undefined;
  site: string;
  zone: string;
  log: string;
  withPast: boolean;
}
export interface Demo {
  readonly url: string;
  readonly databaseUrl: string;
  readonly keys: { readonly collector: string; readonly bench: string };
  stop(): Promise<void>;
}
export function startDemo(settings: DemoSettings): Promise<Demo>;
export function forgetDemo(settings: DemoSettings): void;
