/** Our own sign: a trail of one message, read twice. */
export function KirakuMark({ size = 22 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden="true">
      <g fill="none" stroke="currentColor" strokeWidth="2.6" strokeLinecap="round">
        <path d="M8 19h20" />
        <path d="M17 7v18" />
        <path d="M24 11v14" />
      </g>
      <circle cx="6" cy="19" r="3.6" fill="currentColor" />
    </svg>
  );
}
