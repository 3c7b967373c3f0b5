/** The product's name with its mark: a pen stroke over a line. */
export function Wordmark({ large = false }: { large?: boolean }) {
  const size = large ? 30 : 20;
  return (
    <span
      className={`inline-flex items-center gap-1.5 font-serif font-semibold tracking-[-0.01em] ${large ? 'text-[1.6875rem]' : 'text-[1.0625rem]'}`}
    >
      <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden="true">
        <path
          d="M6 27 20.500 5c1.600 5.200-.2 11-4.600 14.200L9 22.500"
          fill="none"
          stroke="var(--color-green)"
          strokeWidth="2.600"
          strokeLinejoin="round"
          strokeLinecap="round"
        />
        <path d="M5 29h13" stroke="var(--color-ink)" strokeWidth="2.200" strokeLinecap="round" />
      </svg>
      <span className={large ? '' : 'whitespace-nowrap max-[620px]:sr-only'}>Good Quill</span>
    </span>
  );
}
