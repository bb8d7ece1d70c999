import "fake-indexeddb/auto";
import { vi } from "vitest";

Object.defineProperty(window, "matchMedia", {
  configurable: true,
  value: vi.fn((query: string) => ({
    matches: false,
    media: query,
    addEventListener: () => {},
    removeEventListener: () => {},
    addListener: () => {},
    removeListener: () => {},
  })),
});

class Observer {
  observe() {}
  unobserve() {}
  disconnect() {}
}
Object.defineProperty(window, "ResizeObserver", { configurable: true, value: Observer });

vi.mock("../api/line", () => ({
  openLine: () => undefined,
  closeLine: () => undefined,
  hand: { drag: () => Promise.resolve(null), preview: () => Promise.resolve(null) },
}));
