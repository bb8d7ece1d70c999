/**
 * A component in a file of its own, which is loaded when it is wanted, or ahead of that.
 *
 * React's own `lazy` shows what follows a wait only a third of a second after it said that it waits; this one at once.
 */
import { useEffect, useState, type ComponentType, type ReactNode } from "react";

export interface Later<P> {
  (props: P & { waiting?: ReactNode }): ReactNode;
  ahead: () => Promise<void>;
}

export function later<P extends object>(load: () => Promise<{ default: ComponentType<P> }>): Later<P> {
  let Found: ComponentType<P> | null = null;
  let loading: Promise<void> | null = null;
  const ahead = () => {
    loading ??= load().then(
      (module) => {
        Found = module.default;
      },
      (why: unknown) => {
        loading = null; // it may be tried again
        throw why;
      },
    );
    return loading;
  };
  function Shown({ waiting = null, ...props }: P & { waiting?: ReactNode }) {
    const [, setHere] = useState(Found !== null);
    const [failed, setFailed] = useState<unknown>(null);
    useEffect(() => {
      ahead().then(() => setHere(true), setFailed); // it may have come since this was drawn, and is told of then, too
    }, []);
    if (failed !== null) throw failed instanceof Error ? failed : new Error("A part of the program cannot be loaded.");
    return Found === null ? waiting : <Found {...(props as unknown as P)} />;
  }
  return Object.assign(Shown, { ahead });
}
