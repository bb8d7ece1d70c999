/** What can be done with what the right button was pressed on: what fits the selection, and how it is shown. */
import { Menu } from "@mantine/core";
import { proposals } from "../commands/commands";
import { StepItems } from "../cord/StepItems";
import { usePart } from "../state/part";
import { useView } from "../state/view";

const PROPOSED = 5;

export function StageMenu() {
  const at = useView((s) => s.menuAt);
  const selected = useView((s) => s.selected);
  const part = usePart((s) => s.document);
  if (at === null || part === null) return null;
  const close = () => useView.getState().set({ menuAt: null });
  const step = part.steps.find((s) => s.id === selected);
  return (
    <Menu opened onClose={close} position="bottom-start" withinPortal shadow="md" trapFocus>
      <Menu.Target>
        <span aria-hidden="true" style={{ position: "fixed", left: at[0], top: at[1] }} />
      </Menu.Target>
      <Menu.Dropdown aria-label="What can be done here">
        {step !== undefined && <Menu.Label>{step.name}</Menu.Label>}
        {proposals()
          .slice(0, PROPOSED)
          .map((command) => (
            <Menu.Item key={command.id} title={command.detail} onClick={command.run}>
              {command.title}
            </Menu.Item>
          ))}
        <Menu.Divider />
        {step === undefined ? (
          <>
            <Menu.Item onClick={() => useView.getState().ask({ kind: "fit" })}>Fit the part</Menu.Item>
            <Menu.Item onClick={() => useView.getState().set({ unseen: [] })}>Show all</Menu.Item>
          </>
        ) : (
          <StepItems part={part} step={step} />
        )}
      </Menu.Dropdown>
    </Menu>
  );
}
