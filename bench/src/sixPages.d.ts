import type { DrawOrder } from '@chronicon/core/page';
import { type ReportDocument } from '@chronicon/core/report';
/** A client's facts: two years of 54 rows a day. */
export declare function writeFacts(folder: string, clientId?: string): Promise<void>;
/** Six full pages of about 390 texts in all, most of them unlike each other. */
export declare const sixPages: ReportDocument;
/** The fixture as an order to the press; `n` makes each document's words its own. */
export declare const orderOf: (n: number) => DrawOrder;
