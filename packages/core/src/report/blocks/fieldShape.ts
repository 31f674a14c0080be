/** How a choice is asked for: plain data, which a screen draws its fields from. Limits are those of the schema. */
export type FieldShape = { key: string; label: string; hint?: string | undefined } & (
  | {
      kind: 'text';
      /** Characters. */
      most: number;
      /** What is said where nothing stands; left out where nothing need stand. */
      required?: string | undefined;
    }
  /** One metric; `divides`: one whose change can be divided among parts; `adds`: one whose parts add up to the whole. */
  | { kind: 'metric'; divides: boolean; adds: boolean }
  /** One of a few. */
  | { kind: 'choice'; options: readonly { value: string; label: string }[] }
  | { kind: 'metrics'; least: number; most: number }
  /** `none`: it may be left out, and what stands then. */
  | { kind: 'dimension'; none?: string | undefined }
  | { kind: 'count'; least: number; most: number }
  /** A file that somebody brings. */
  | { kind: 'picture' }
  /** Words of a person, standing or for one period: `span` and `text` of the block. */
  | { kind: 'commentary'; most: number }
);

/** A choice that cannot stand, with a sentence for the person who made it. */
export interface BlockFault {
  field: string;
  message: string;
}
