import { useState, type ReactNode } from "react";

/** Shown when something in it is chosen, or when it is asked for. */
export function More({ label, open, children }: { label: string; open: boolean; children: ReactNode }) {
  const [asked, setAsked] = useState(false);
  if (open || asked) return <>{children}</>;
  return (
    <button type="button" className="more" onClick={() => setAsked(true)}>
      {label}…
    </button>
  );
}
