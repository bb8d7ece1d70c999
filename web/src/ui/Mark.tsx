/** The sounding weight on its cord. */
export function Mark({ size }: { size: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 44 44" aria-hidden="true">
      <path d="M22 2v19" stroke="var(--brass)" strokeWidth="2" fill="none" />
      {[6, 11, 16].map((y) => (
        <path key={y} d={`M19 ${y}h6`} stroke="var(--madder)" strokeWidth="1.6" />
      ))}
      <path d="M22 20l7 7-3 14h-8l-3-14z" fill="var(--sea)" />
      <circle cx="22" cy="26" r="1.8" fill="var(--panel)" />
    </svg>
  );
}
