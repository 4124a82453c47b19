/** The application's mark. */
export const Mark = ({ size }: { size: number }) => (
  <svg width={size} height={size} viewBox="0 0 22 22" aria-hidden>
    <rect width="22" height="22" rx="4" fill="#17324D" />
    <path d="M4 4h14L4 18z" fill="#D9512C" />
    <rect x="7.5" y="7.5" width="7" height="7" fill="#FFFEFA" />
  </svg>
);
