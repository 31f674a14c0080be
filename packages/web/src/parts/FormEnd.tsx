import { Button } from '@mantine/core';
import type { ReactNode } from 'react';
import { formError, Notice } from './Notice.tsx';

interface Props {
  error: unknown;
  /** Fields of the form that tell their own faults. */
  fields: readonly string[];
  pending: boolean;
  save?: string;
  disabled?: boolean;
  /** Left out where there is nothing to leave. */
  onCancel?: (() => void) | undefined;
  /** Further buttons, between saving and cancelling. */
  children?: ReactNode;
}

/** How a form ends: what no field tells, then save or leave. */
export function FormEnd({ error, fields, pending, save = 'Save', disabled = false, onCancel, children }: Props) {
  return (
    <>
      <Notice error={formError(error, fields)} />
      <div className="row">
        <Button type="submit" loading={pending} disabled={disabled}>
          {save}
        </Button>
        {children}
        {onCancel && (
          <Button variant="subtle" onClick={onCancel}>
            Cancel
          </Button>
        )}
      </div>
    </>
  );
}
