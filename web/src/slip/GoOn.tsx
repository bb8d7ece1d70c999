/** What a sketch or a path is there for: the steps that are likeliest to follow, a click away. */
import { Button } from "@mantine/core";
import { proposals } from "../commands/commands";
import { Card } from "./Card";

const SHOWN = 4;

export function GoOn() {
  return (
    <Card title="Go on with">
      {proposals()
        .slice(0, SHOWN)
        .map((command) => (
          <Button
            key={command.id}
            fullWidth
            size="xs"
            variant="default"
            justify="flex-start"
            title={command.detail}
            onClick={command.run}
          >
            {command.title}
          </Button>
        ))}
    </Card>
  );
}
