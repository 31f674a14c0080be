import { type Brand, brandSchema } from '@chronicon/core/report';
import { storedOnce } from './stored.ts';

/** A client's brand as it is stored. */
export const brandIn = storedOnce<Brand>(brandSchema, 'the brand of a client');
