import { zoneName } from '../../report/specs.ts';
import { defineSetting } from '../setting.ts';

/** An IANA time zone: its days are the days of the figures. */
export const zone = defineSetting<string>({
  label: 'Time zone',
  hint: 'Days in reports follow this time zone',
  field: {
    kind: 'choice',
    options: Intl.supportedValuesOf('timeZone').map((value) => ({ value, label: value })),
    many: true,
  },
  schema: zoneName,
  otherwise: 'Europe/London',
});
