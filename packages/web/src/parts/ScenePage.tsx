import { FACE_NAMES } from '@chronicon/core/contract/sceneFaces';
import type { Op, ScenePage as Page } from '@chronicon/core/page';
import { memo } from 'react';

/** A run of letters that is read from right to left; its left end is where the scene says, all the same. */
const RIGHT_TO_LEFT = { direction: 'rtl', unicodeBidi: 'bidi-override', textAnchor: 'end' } as const;

function paint(op: Op, key: number, pictures: string) {
  switch (op.k) {
    case 'text': {
      const { family, weight } = FACE_NAMES[op.face];
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
  selected?: string | null;
  onSelect?: (block: string) => void;
}

/** Paints a page of a scene as SVG: primitives as they come, nothing laid out here. */
export const ScenePage = memo(function ScenePage({ page, lang, pictures, selected, onSelect }: Props) {
  const chosen = page.blocks.filter((b) => b.id === selected);
  return (
    <svg
      className="paper"
      viewBox={`0 0 ${page.width} ${page.height}`}
      role="img"
      aria-label={page.title}
      lang={lang}
      textRendering="geometricPrecision"
      style={{ fontKerning: 'normal', fontVariantNumeric: 'normal', aspectRatio: `${page.width} / ${page.height}` }}
    >
      {page.ops.map((op, i) => paint(op, i, pictures))}
      {page.blocks.map((b) => (
        // Blocks are chosen by keyboard in the outline; this is the pointer's way.
        // biome-ignore lint/a11y/noStaticElementInteractions: see above
        <rect
          key={b.id}
          x={b.x - 5}
          y={b.y - 4}
          width={b.w + 10}
          height={b.h + 8}
          fill="transparent"
          style={{ cursor: onSelect ? 'pointer' : undefined }}
          onClick={() => onSelect?.(b.id)}
        />
      ))}
      {chosen.map((b) => (
        <rect
          key={`${b.id}-${b.y}`}
          className="chosen-block"
          x={b.x - 6}
          y={b.y - 5}
          width={b.w + 12}
          height={b.h + 10}
          fill="none"
          stroke="var(--c-accent)"
          strokeWidth={1.4}
          rx={2}
          pointerEvents="none"
        />
      ))}
    </svg>
  );
});
