import type { Tag, TagMore } from '../report/index.ts';
import type { SceneFace } from './faces.ts';

/**
 * A drawing primitive. Points, origin top left, rounded to 0.01. Both painters draw exactly these, in order;
 * neither lays anything out.
 */
export type Op =
  /** A run of text in one face and one direction: `x` is its left end, `y` its baseline, `w` its advance. */
  | {
      k: 'text';
      x: number;
      y: number;
      w: number;
      face: SceneFace;
      size: number;
      fill: string;
      /** In the order in which it is read. */
      text: string;
      /** Read from right to left. */
      rtl?: true;
      /** What no face can draw, where `text` stands in its place. */
      lost?: string;
    }
  | { k: 'rect'; x: number; y: number; w: number; h: number; fill: string }
  /** `d` holds absolute M, L, C, Q and Z alone. */
  | {
      k: 'path';
      d: string;
      fill?: string;
      stroke?: string;
      width?: number;
      dash?: number[];
      opacity?: number;
      evenOdd?: true;
    }
  /** A picture file of the data folder, by its SHA-256. */
  | { k: 'image'; x: number; y: number; w: number; h: number; file: string; alt: string }
  /** Begins a stretch with a structure tag; what lies outside any is an artifact of the page. */
  | ({ k: 'open'; tag: Tag; alt?: string } & TagMore)
  | { k: 'close' };

export interface ScenePage {
  title: string;
  width: number;
  height: number;
  ops: Op[];
  /** Where each block lies, so that a screen can point at it, and what a table of contents calls it. */
  blocks: { id: string; x: number; y: number; w: number; h: number; name?: string }[];
}

/** Laid-out pages: the contract of looks between composing and painting. */
export interface Scene {
  version: 1;
  lang: string;
  title: string;
  author: string;
  pages: ScenePage[];
  /** Files that go with it: figures as CSV (RFC 4180). */
  attached?: { name: string; about: string; text: string }[];
}
