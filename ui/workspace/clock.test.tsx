import { act, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it } from "vitest";
import { useCurrentItem } from "@ui/state/current-item";
import { useLanes } from "@ui/state/lane-settings";
import { useWorkspace } from "@ui/state/workspace-store";
import { TimeMenu } from "@ui/timeline/time-menus";
import { inWorkspace } from "../../tests/components/current-item";
import { ListeningBar } from "./listening-bar";

afterEach(() => {
  useLanes.setState(useLanes.getInitialState());
  useWorkspace.setState(useWorkspace.getInitialState());
});

function Bar() {
  const { facts } = useCurrentItem();
  return (
    <>
      {facts && <TimeMenu facts={facts} />}
      <ListeningBar />
    </>
  );
}
const at = (seconds: number) => act(() => useWorkspace.setState({ cursor: seconds }));

describe("the place of the playhead", () => {
  it("is told in a second format beside the first, in which it begins to be told in nothing else", async () => {
    inWorkspace(<Bar />);
    expect(screen.queryByTestId("second-clock")).toBeNull();
    await userEvent.setup().selectOptions(screen.getByLabelText("Other time format"), "25");
    at(2.48);
    expect(screen.getByTestId("clock").textContent).toBe("00:00:02.480");
    expect(screen.getByTestId("second-clock").textContent).toBe("00:00:02:12");
    await userEvent.setup().selectOptions(screen.getByLabelText("Other time format"), "none");
    expect(screen.queryByTestId("second-clock")).toBeNull();
  });

  it("is told in blocks of so many samples as are set, within what a block can be", async () => {
    const user = userEvent.setup();
    inWorkspace(<Bar />);
    expect(screen.queryByLabelText("Samples of a block")).toBeNull();
    await user.selectOptions(screen.getByLabelText("Format of times"), "blocks");
    const field = screen.getByLabelText("Samples of a block");
    await user.clear(field);
    await user.type(field, "480{Enter}");
    at(1.005);
    expect(screen.getByTestId("clock").textContent).toBe("100.240");
    await user.clear(field);
    await user.type(field, "1{Enter}");
    expect(useLanes.getState().blockSamples).toBe(2);
  });
});
