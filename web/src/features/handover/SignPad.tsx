/** A field to sign in by finger, pen or mouse: lines of points in 1000 by 400, whatever its size on the screen. */
import { type PointerEvent, useRef } from "react";
import { texts } from "../../texts";

const words = texts.handover;
export const WIDTH = 1000;
export const HEIGHT = 400;
export type Strokes = number[][][];

/** As a path of the drawing. */
export function pathOf(stroke: number[][]): string {
  return `M${stroke.map(([x, y]) => `${x} ${y}`).join(" L")}`;
}

interface Props {
  label: string;
  strokes: Strokes;
  onStrokes: (next: Strokes) => void;
}

export function SignPad({ label, strokes, onStrokes }: Props) {
  const field = useRef<SVGSVGElement>(null);
  const isDrawing = useRef(false);
  const pointOf = (event: PointerEvent): number[] => {
    const box = field.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    const inside = (value: number, most: number) => Math.round(Math.min(most, Math.max(0, value)));
    return [
      inside(((event.clientX - box.left) / box.width) * WIDTH, WIDTH),
      inside(((event.clientY - box.top) / box.height) * HEIGHT, HEIGHT),
    ];
  };
  return (
    <div className="sign-pad">
      <svg
        ref={field}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={label}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          isDrawing.current = true;
          onStrokes([...strokes, [pointOf(event)]]);
        }}
        onPointerMove={(event) => {
          if (!isDrawing.current) return;
          const last = strokes.at(-1) ?? [];
          onStrokes([...strokes.slice(0, -1), [...last, pointOf(event)]]);
        }}
        onPointerUp={() => {
          isDrawing.current = false;
        }}
        onPointerCancel={() => {
          isDrawing.current = false;
        }}
      >
        <path d={`M60 320 H940`} className="sign-line" />
        {strokes.map((stroke, k) => (
          <path key={k} d={pathOf(stroke)} className="sign-stroke" />
        ))}
      </svg>
      <button type="button" className="plain" disabled={strokes.length === 0} onClick={() => onStrokes([])}>
        {words.clear}
      </button>
    </div>
  );
}
