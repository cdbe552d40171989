import { memo } from 'react';
import { type DrawTool, type Tool, useShot } from '@/browser/session/store';
import { t } from '../words/words';
import { Note } from './Note';

const drawHints: Record<DrawTool, string> = {
  path: t`Click points, drag for curves; Enter or the first point closes, Backspace takes one back.`,
  rectangle: t`Drag a rectangle; Shift makes a square.`,
  ellipse: t`Drag an ellipse; Shift makes a circle.`,
  freehand: t`Draw around it; the line closes by itself.`,
};

function hintOf(tool: Tool): string {
  switch (tool.type) {
    case 'region':
      return t`Drag a frame: only what is in it is computed. Esc leaves.`;
    case 'pick-objects':
      return t`Click objects on the picture; Shift takes one out. Esc when done.`;
    case 'pick-position':
      return t`Click a surface on the picture. Esc leaves.`;
    case 'pick-guide':
      return t`Click ${tool.how === 'scene' ? t`a surface` : t`what is to be followed`} on the picture. Esc leaves.`;
    case 'pick-colour':
      return t`Click a colour on the picture. Esc leaves.`;
    case 'draw':
      return t`${drawHints[tool.with]} Esc leaves.`;
  }
}

/** What the active tool waits for, over the picture. */
export const ToolHint = memo(function ToolHint() {
  const tool = useShot((s) => s.tool);
  return tool ? <Note>{hintOf(tool)}</Note> : null;
});
