import { faceName } from '@chronicon/core/contract/sceneFaces';
import type { Op, ScenePage as Page } from '@chronicon/core/page';
import { memo, useEffect } from 'react';
import { fetchOwnFaces } from './ownFaces.ts';

/** A run of letters that is read from right to left; its left end is where the scene says, all the same. */
const RIGHT_TO_LEFT = { direction: 'rtl', unicodeBidi: 'bidi-override', textAnchor: 'end' } as const;

/** As the renderer sets them: what stands in columns has digits as wide as each other. */
const EVEN_DIGITS = { style: { fontVariantNumeric: 'tabular-nums' } } as const;

function paint(op: Op, key: number, pictures: string) {
  switch (op.k) {
    case 'text': {
      const { family, weight, evenDigits } = faceName(op.face);
      return (
        <text
          key={key}
          x={op.x}
          y={op.y}
          fontFamily={`'${family}'`}
          fontWeight={weight}
          fontSize={op.size}
          fill={op.fill}
          xmlSpace="preserve"
          {...(evenDigits && EVEN_DIGITS)}
          {...(op.rtl && RIGHT_TO_LEFT)}
        >
          {op.text}
        </text>
      );
    }
    case 'rect':
      return <rect key={key} x={op.x} y={op.y} width={op.w} height={op.h} fill={op.fill} />;
    case 'path':
      return (
        <path
          key={key}
          d={op.d}
          fill={op.fill ?? 'none'}
          stroke={op.stroke ?? 'none'}
          strokeWidth={op.width}
          strokeDasharray={op.dash?.join(' ')}
          strokeLinejoin="round"
          opacity={op.opacity}
          fillRule={op.evenOdd ? 'evenodd' : 'nonzero'}
        />
      );
    case 'image':
      return <image key={key} x={op.x} y={op.y} width={op.w} height={op.h} href={`${pictures}/${op.file}`} />;
    default:
      return null;
  }
}

interface Props {
  page: Page;
  lang: string;
  /** Address under which the client's pictures lie. */
  pictures: string;
  /** The part that is shown, in points; the whole page when left out. */
  view?: { x: number; y: number; w: number; h: number };
}

/** Paints a page of a scene as SVG: primitives as they come, nothing laid out here. */
export const ScenePage = memo(function ScenePage({ page, lang, pictures, view }: Props) {
  useEffect(() => fetchOwnFaces(page), [page]);
  const { x, y, w, h } = view ?? { x: 0, y: 0, w: page.width, h: page.height };
  return (
    <svg
      className="paper"
      viewBox={`${x} ${y} ${w} ${h}`}
      role="img"
      aria-label={page.title}
      lang={lang}
      textRendering="geometricPrecision"
      style={{ fontKerning: 'normal', fontVariantNumeric: 'normal', aspectRatio: `${w} / ${h}` }}
    >
      {page.ops.map((op, i) => paint(op, i, pictures))}
    </svg>
  );
});
