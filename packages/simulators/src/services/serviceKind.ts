/** An account of a simulated service. */
export interface ServiceAccount {
  id: string;
  name: string;
  site: string;
  zone: string;
  currency: string;
  /** First day of which the service knows anything. */
  firstDay: string;
}

/** Dimension values, then measures in the dataset's order. */
export type Row = { dims: string[]; m: number[] };

export interface ServiceDataset {
  key: string;
  name: string;
  dimensions: readonly string[];
  measures: readonly string[];
  /** How many days back it can be read; all of them when left out. */
  window?: number;
}

/** One kind of simulated service: what it knows and how. One file a kind, registered in registry.ts. */
export interface ServiceKind {
  kind: string;
  label: string;
  accounts: readonly ServiceAccount[];
  /** Datasets of one account that share a measure tell the same story: their totals agree. */
  datasets: readonly ServiceDataset[];
  /** Measures that count people: over a range they are fewer than their days together. */
  uniques: readonly string[];
  /** What a dataset holds for one day: a pure function of seed, account and day; later days only add. */
  rows(account: ServiceAccount, dataset: string, date: string, seed: string): Row[];
}
