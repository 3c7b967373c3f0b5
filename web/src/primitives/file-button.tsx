/** Words that choose a file, or several, reached and pressed by keyboard like a button. */
import type { ReactNode } from 'react';

interface Props {
  label: string;
  accept: string;
  onFile: (file: File) => void;
  several?: boolean;
  children: ReactNode;
}

export function FileButton({ label, accept, onFile, several = false, children }: Props) {
  return (
    <label className="cursor-pointer rounded-sm text-sm font-medium text-green-2 underline-offset-3 focus-within:outline-2 focus-within:outline-green hover:underline">
      {children}
      <input
        type="file"
        className="sr-only"
        aria-label={label}
        accept={accept}
        multiple={several}
        onChange={(e) => {
          [...(e.target.files ?? [])].forEach((file) => onFile(file));
          e.target.value = ''; // the same file may be chosen again
        }}
      />
    </label>
  );
}
