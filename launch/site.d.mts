export interface SiteSettings {
  readonly name: string;
  readonly zone: string;
  readonly port: number;
  readonly data: string;
  readonly databaseUrl: string;
  readonly password: string;
  readonly reader: { readonly name: string; readonly password: string };
  readonly bench?: { readonly url: string; readonly token: string };
  readonly collects?: boolean;
  readonly log: string;
}
export interface RunningSite {
  /** Its data folder. */
  readonly data: string;
  readonly url: string;
  readonly databaseUrl: string;
  readonly keys: { readonly collector: string; readonly bench: string };
  stop(): Promise<void>;
}
export function ensureDatabase(clusterUrl: string, name: string): Promise<string>;
export function startSite(site: SiteSettings): Promise<RunningSite>;
