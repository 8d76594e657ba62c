/** How large the picture of a rendition is: never larger than its source, even on both sides, of the same shape. */
import Joi from 'joi';

export type PictureSize =
  | { readonly by: 'full' }
  /** Height in lines of the picture as it is shown. */
  | { readonly by: 'lines'; readonly lines: number }
  /** Width and height divided. */
  | { readonly by: 'share'; readonly share: number }
  /** Inside a frame; smaller pictures stay as they are. */
  | { readonly by: 'fit'; readonly width: number; readonly height: number };

const side = Joi.number().integer().min(16).max(16_384);

export const pictureSizeForm = Joi.alternatives(
  Joi.object({ by: Joi.valid('full').required() }),
  Joi.object({ by: Joi.valid('lines').required(), lines: side.required() }),
  Joi.object({ by: Joi.valid('share').required(), share: Joi.number().valid(2, 3, 4, 6).required() }),
  Joi.object({ by: Joi.valid('fit').required(), width: side.required(), height: side.required() }),
);

export interface Picture {
  readonly width: number;
  readonly height: number;
}

/** `source`: as it is shown, turned upright. */
export function sizeOf({ width, height }: Picture, size: PictureSize): Picture {
  const scale =
    size.by === 'full'
      ? 1
      : size.by === 'lines'
        ? size.lines / height
        : size.by === 'share'
          ? 1 / size.share
          : Math.min(size.width / width, size.height / height);
  const by = Math.min(1, scale);
  // What is fitted must not stick out for being made even.
  const even = size.by === 'fit' && by < 1 ? evenBelow : evenNear;
  return { width: even(width * by), height: even(height * by) };
}

function evenNear(value: number): number {
  return Math.max(2, Math.round(value / 2) * 2);
}

/** A thousandth is rounding, not a line more. */
function evenBelow(value: number): number {
  return Math.max(2, Math.floor((value + 0.001) / 2) * 2);
}

export function sizeWords(size: PictureSize): string {
  switch (size.by) {
    case 'full':
      return 'full size';
    case 'lines':
      return `${size.lines} lines`;
    case 'share':
      return `÷${size.share}`;
    case 'fit':
      return `inside ${size.width} × ${size.height}`;
  }
}
