import type { Report } from '@chronicon/core/contract';

export type Block = Report['document']['pages'][number]['rows'][number]['blocks'][number];
