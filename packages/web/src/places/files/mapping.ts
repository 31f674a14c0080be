import type { Body } from '../../api/call.ts';

/** How a file is read, as a person sets it. */
export type Mapping = Body<'POST /api/clients/:client/imports/:import/preview'>['mapping'];
