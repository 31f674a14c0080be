import { calls } from './kinds/calls.ts';
import { email } from './kinds/email.ts';
import { listings } from './kinds/listings.ts';
import { paidAds } from './kinds/paidAds.ts';
import { search } from './kinds/search.ts';
import { social } from './kinds/social.ts';
import { upkeep } from './kinds/upkeep.ts';
import { webAnalytics } from './kinds/webAnalytics.ts';
import type { ServiceKind } from './serviceKind.ts';

/** Every simulated service. */
export const SERVICES: readonly ServiceKind[] = [webAnalytics, paidAds, social, email, calls, listings, upkeep, search];
