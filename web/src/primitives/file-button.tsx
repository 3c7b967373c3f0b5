/** Words that choose a file, reached and pressed by keyboard like a button. */
import type { ReactNode } from 'react';

export function FileButton({
  label,
  accept,
  onFile,
  children,
}: {
  label: string;
  accept: string;
  onFile: (file: File) => void;
  children: ReactNode;
}) {
  return (
    <label className="cursor-pointer rounded-sm text-sm font-medium text-green-2 underline-offset-3 focus-within:outline-2 focus-within:outline-green hover:underline">
      {children}
      <input
        type="file"
        className="sr-only"
        aria-label={label}
        accept={accept}
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) onFile(file);
          e.target.value = ''; // the same file may be chosen again
        }}
      />
    </label>
  );
}
