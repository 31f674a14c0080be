import type { ReactNode } from 'react';
import { ApiError } from '../api/call.ts';

/** Something that went wrong or wants attention, in words, where it happened. */
export function Notice({ error, children }: { error?: unknown; children?: ReactNode }) {
  if (!error && !children) return null;
  const text = error instanceof ApiError ? error.message : error ? 'Something went wrong. Reload the page.' : children;
  return (
    <div role="alert" className={`note small${error ? ' wrong' : ''}`}>
      {text}
      {error instanceof ApiError && error.status >= 500 && error.request && (
        <span className="muted"> Error ID: {error.request}.</span>
      )}
    </div>
  );
}

/** The field's own sentence of a refusal. */
export const fieldError = (error: unknown, field: string): string | undefined =>
  error instanceof ApiError ? error.fields[field] : undefined;

/** A refusal that no field of the form shows; each field says its own. */
export const formError = (error: unknown, fields: readonly string[]): unknown =>
  error instanceof ApiError && Object.keys(error.fields).some((f) => fields.includes(f)) ? null : error;
