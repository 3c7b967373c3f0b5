/** A paper of the package that came in, chosen as what shows something. */
import type { Turns } from '../../api/client';

interface Props {
  label: string;
  papers: Turns['papers'];
  value: string;
  /** What is said where none is chosen. */
  none: string;
  required?: boolean;
  onPaper: (code: string) => void;
}

export const PaperChoice = ({ label, papers, value, none, required, onPaper }: Props) => (
  <label className="min-w-[220px] flex-1 text-sm max-[420px]:min-w-0">
    {label}
    <select className="field mt-1 block w-full" required={required} value={value} onChange={(e) => onPaper(e.target.value)}>
      <option value="">{none}</option>
      {papers.map((p) => (
        <option key={p.code} value={p.code}>
          {p.title}
        </option>
      ))}
    </select>
  </label>
);
