// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, expect, test } from "vitest";
import { Finder } from "../../web/src/primitives/finder";

afterEach(cleanup);
let picked: string[] = [];

function Field({ found, fresh }: { found: string[]; fresh: boolean }) {
  const [text, setText] = useState("");
  return (
    <Finder
      label="Find"
      placeholder=""
      listLabel="Found"
      text={text}
      onText={setText}
      found={found}
      fresh={fresh}
      keyOf={(x) => x}
      onPick={(x) => picked.push(x)}
    >
      {(x) => x}
    </Finder>
  );
}

test("arrows and Enter pick, Escape closes", () => {
  picked = [];
  render(<Field found={["Alder", "Birch"]} fresh />);
  const field = screen.getByRole("combobox", { name: "Find" });
  fireEvent.focus(field);
  fireEvent.keyDown(field, { key: "ArrowDown" });
  expect(
    screen.getByRole("option", { name: "Birch" }).getAttribute("aria-selected"),
  ).toBe("true");
  fireEvent.keyDown(field, { key: "Escape" });
  expect(screen.queryByRole("option")).toBeNull();
  fireEvent.focus(field);
  fireEvent.keyDown(field, { key: "Enter" });
  expect(picked).toEqual(["Birch"]);
});

test("Enter pressed before the answer picks from the answer, never from what was found before", () => {
  picked = [];
  const { rerender } = render(<Field found={["Old"]} fresh={false} />);
  const field = screen.getByRole("combobox", { name: "Find" });
  fireEvent.focus(field);
  fireEvent.change(field, { target: { value: "new" } });
  fireEvent.keyDown(field, { key: "Enter" });
  expect(picked).toEqual([]);
  rerender(<Field found={["New"]} fresh />);
  expect(picked).toEqual(["New"]);
});
