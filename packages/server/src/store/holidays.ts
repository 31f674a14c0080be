import { type Holiday, holiday } from '@chronicon/core/contract';
import { z } from 'zod';
import { storedOnce } from './stored.ts';

/** Days on which nobody works, as they are stored of an agency and of a calendar. */
export const holidaysIn = storedOnce<Holiday[]>(z.array(holiday), 'a calendar of holidays');
