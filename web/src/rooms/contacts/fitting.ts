/** Which template a new deal starts with. */
import type { TemplateChoice } from '../../api/client';

/** The template that fits best: made for this kind of property, else one for any, of that side. */
export const fittingTemplate = (all: TemplateChoice[], side: string, category: string) => {
  const ours = all.filter((t) => t.side === side);
  const fit = ours.filter((t) => t.kinds.includes(category));
  return fit.find((t) => /conventional/.test(t.name)) ?? fit[0] ?? ours.find((t) => t.kinds.length === 0) ?? ours[0];
};
