// @vitest-environment jsdom
/** Actions done once, forms kept in the browser, and the shelf that unsent edits lie on. */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook } from "@testing-library/react";
import { createElement, type ReactNode } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { Problem } from "../../web/src/api/client";
import { useAction } from "../../web/src/api/use-action";
import { useKept } from "../../web/src/api/use-kept";
import { useOver } from "../../web/src/api/use-over";
import { browserShelf } from "../../web/src/rooms/hand/shelf";

let queries: QueryClient;
const wrapper = ({ children }: { children: ReactNode }) =>
  createElement(QueryClientProvider, { client: queries }, children);
beforeEach(() => {
  localStorage.clear();
  vi.useFakeTimers();
  queries = new QueryClient();
  queries.setQueryData(["session"], { id: "ines" });
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.restoreAllMocks();
});
const wait = (ms = 10) => act(() => vi.advanceTimersByTimeAsync(ms));

// Actions

type Doing = (input: unknown, key: string) => Promise<string>;
const action = (doing: Doing, more = {}) =>
  renderHook(() => useAction<string, unknown>({ mutationFn: doing, ...more }), {
    wrapper,
  }).result;
const again = () => new Problem("Busy.", "", 503, "", true);

test("pressed twice it is done once; afterwards anew, under another key", async () => {
  const keys: string[] = [];
  const done = vi.fn();
  const it = action(
    async (_, key) => {
      keys.push(key);
      await new Promise((free) => setTimeout(free, 50));
      return "made";
    },
    { onSuccess: (out: string) => done(out) },
  );
  it.current.mutate(1);
  it.current.mutate(1);
  await wait(60);
  expect(keys).toHaveLength(1);
  expect(done).toHaveBeenCalledWith("made");
  it.current.mutate(1);
  await wait(60);
  expect(new Set(keys).size).toBe(2);
});

test("what may pass is tried again under the same key, with growing pauses, a few times", async () => {
  const keys: string[] = [];
  const it = action(async (_, key) => {
    keys.push(key);
    throw again();
  });
  it.current.mutate("x");
  await wait(100);
  expect(keys).toHaveLength(1);
  await wait(500);
  expect(keys).toHaveLength(2);
  await wait(800);
  expect(keys).toHaveLength(2);
  await wait(10_000);
  expect(keys).toHaveLength(4);
  expect(new Set(keys).size).toBe(1);
  expect(it.current.error?.message).toBe("Busy.");
  it.current.mutate("x"); // nobody knows whether it was done: the same key again
  await wait();
  expect(new Set(keys).size).toBe(1);
  await wait(20_000);
  it.current.mutate("y");
  await wait();
  expect(new Set(keys).size).toBe(2);
});

test("the server’s own wish to wait is kept", async () => {
  const doing = vi.fn(async () => {
    throw new Problem("Busy.", "", 429, "", true, 7);
  });
  action(doing).current.mutate(1);
  await wait(6_900);
  expect(doing).toHaveBeenCalledTimes(1);
  await wait(200);
  expect(doing).toHaveBeenCalledTimes(2);
});

test("refused for good or without a network it is not tried again; refused, the next is another one", async () => {
  const keys: string[] = [];
  let error: Error = new Problem("No.", "", 403);
  const it = action(async (_, key) => {
    keys.push(key);
    throw error;
  });
  it.current.mutate(1);
  await wait(9_000);
  expect(keys).toHaveLength(1);
  error = new Problem("No network.", "", 0, "", true);
  it.current.mutate(1);
  await wait(9_000);
  expect(new Set(keys).size).toBe(2);
  it.current.mutate(1);
  await wait(9_000);
  expect(keys).toHaveLength(3);
  expect(keys[2]).toBe(keys[1]);
  error = new TypeError("a bug");
  it.current.mutate(1);
  await wait(9_000);
  expect(keys).toHaveLength(4);
});

test("a key that stood for something else is given up for another, once", async () => {
  const keys: string[] = [];
  const it = action(async (_, key) => {
    keys.push(key);
    throw new Problem("It was sent with other content.", "", 409, "repeated");
  });
  it.current.mutate(1);
  await wait(20_000);
  expect(new Set(keys).size).toBe(2);
});

test("a file is told from another by its name, size and time", async () => {
  const keys: string[] = [];
  const it = action(async (_, key) => {
    keys.push(key);
    throw again();
  });
  const file = (name: string, lastModified: number) =>
    new File(["a"], name, { lastModified });
  for (const one of [
    file("a.pdf", 1),
    file("a.pdf", 1),
    file("a.pdf", 2),
    file("b.pdf", 1),
  ]) {
    it.current.mutate({ one });
    await wait(30_000);
  }
  expect(new Set(keys).size).toBe(3);
});

test("what is to be done afterwards is done, and settling is told on", async () => {
  const settled = vi.fn();
  const it = action(async () => "made", { onSettled: settled });
  it.current.mutate(1);
  await wait();
  expect(settled).toHaveBeenCalledOnce();
});

// Forms

const form = (name: string, saved: string) =>
  renderHook((of: string) => useKept(name, of), {
    wrapper,
    initialProps: saved,
  });

test("what is typed outlives a reload, for its user, as long as what it is typed over stands", () => {
  const typing = form("offer", "").result;
  act(() => typing.current.set("9"));
  expect(form("offer", "").result.current).toMatchObject({
    typed: "9",
    restored: true,
  });
  expect(form("offer", "7").result.current).toMatchObject({
    typed: "7",
    restored: false,
  });
  expect(form("other", "").result.current.typed).toBe("");
  queries.setQueryData(["session"], { id: "rosa" });
  expect(form("offer", "").result.current.typed).toBe("");
});

test("what was typed over something that was saved since does not come back with it", () => {
  const it = form("offer", "A").result;
  act(() => it.current.set("B"));
  form("offer", "B"); // it was saved
  expect(form("offer", "A").result.current).toMatchObject({
    typed: "A",
    restored: false,
  }); // and undone
});

test("typed back to what is saved nothing is kept; settled it shows what was saved", () => {
  const it = form("offer", "7").result;
  act(() => it.current.set("9"));
  act(() => it.current.set("7"));
  expect(localStorage.length).toBe(0);
  act(() => it.current.set("9"));
  const back = form("offer", "7").result;
  expect(back.current.restored).toBe(true);
  act(() => back.current.settle("9"));
  expect(back.current).toMatchObject({ typed: "9", restored: false });
  expect(localStorage.length).toBe(0);
});

test("a store that is broken, full or closed loses nothing from the screen", () => {
  localStorage.setItem("quill-form-ines-offer", "{broken");
  const it = form("offer", "7").result;
  expect(it.current).toMatchObject({ typed: "7", restored: false });
  vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
    throw new Error("full");
  });
  act(() => it.current.set("9"));
  expect(it.current.typed).toBe("9");
});

test("a form that becomes another keeps each under its own name", () => {
  const { result, rerender } = renderHook((name: string) => useKept(name, ""), {
    wrapper,
    initialProps: "a",
  });
  act(() => result.current.set("1"));
  rerender("b");
  act(() => result.current.set("2"));
  expect(JSON.parse(localStorage.getItem("quill-form-ines-a")!).typed).toBe(
    "1",
  );
  expect(JSON.parse(localStorage.getItem("quill-form-ines-b")!).typed).toBe(
    "2",
  );
});

// What is typed over

interface Card {
  number: number;
  said: Record<string, string>;
}
const card = (number: number, said: Card["said"] = {}): Card => ({
  number,
  said: { name: "Strand", ...said },
});
const onCard = (first: Card) =>
  renderHook(
    (saved: Card) => {
      const form = useKept("card", { said: saved.said });
      return { form, ...useOver(saved, { said: saved.said }, form) };
    },
    { wrapper, initialProps: first },
  );
const type = (it: ReturnType<typeof onCard>, said: Card["said"]) =>
  act(() =>
    it.result.current.form.set({
      said: { ...it.result.current.form.typed.said, ...said },
    }),
  );

test("with nothing typed it shows what others keep, and that is known", () => {
  const it = onCard(card(1));
  it.rerender(card(2, { phone: "2" }));
  expect(it.result.current.form.typed.said).toEqual({
    name: "Strand",
    phone: "2",
  });
  expect(it.result.current.over().number).toBe(2);
  it.rerender(card(3, { phone: "2" })); // kept again as it was
  expect(it.result.current.over().number).toBe(3);
});

test("behind what is typed nobody’s change is known before it was told; then it stands where the author left it alone", () => {
  const it = onCard(card(1, { phone: "1", email: "a" }));
  type(it, { phone: "3", code: "" });
  it.rerender(card(2, { phone: "2", email: "b", code: "C" }));
  expect(it.result.current.form.typed.said).toMatchObject({
    phone: "3",
    email: "a",
  });
  expect(it.result.current.over().number).toBe(1);
  expect(
    JSON.parse(localStorage.getItem("quill-form-ines-card")!).typed.said.phone,
  ).toBe("3");
  act(() => it.result.current.told());
  expect(it.result.current.form.typed.said).toEqual({
    name: "Strand",
    phone: "3",
    email: "b",
    code: "C",
  });
  expect(it.result.current.over().number).toBe(2);
  // Told once is not told for good.
  it.rerender(card(3, { phone: "9" }));
  expect(it.result.current.over().number).toBe(2);
});

test("told before it has come, it is known as soon as it comes", () => {
  const it = onCard(card(1, { phone: "1" }));
  type(it, { phone: "3" });
  act(() => it.result.current.told());
  expect(it.result.current.over().number).toBe(1);
  it.rerender(card(2, { phone: "2" }));
  expect(it.result.current.over().number).toBe(2);
  expect(it.result.current.form.typed.said.phone).toBe("3");
});

test("what the author kept is known at once, and what goes on being typed is typed over that", () => {
  const it = onCard(card(1, { phone: "1" }));
  type(it, { phone: "3" });
  const kept = card(2, { phone: "3" });
  act(() => it.result.current.knows(kept, { said: kept.said }));
  type(it, { phone: "34" });
  it.rerender(kept);
  expect(it.result.current.over().number).toBe(2);
  expect(it.result.current.form.typed.said.phone).toBe("34");
  // Two who type the same are in nobody's way.
  it.rerender(card(3, { phone: "34" }));
  expect(it.result.current.over().number).toBe(3);
});

// The shelf

test("the shelf gives what begins with a name, in order, and forgets what is dropped", () => {
  browserShelf.put("box-b", "2");
  browserShelf.put("box-a", "1");
  browserShelf.put("other", "3");
  expect(browserShelf.all("box-")).toEqual([
    ["box-a", "1"],
    ["box-b", "2"],
  ]);
  browserShelf.drop("box-a");
  expect(browserShelf.all("box-")).toEqual([["box-b", "2"]]);
  vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
    throw new Error("full");
  });
  expect(() => browserShelf.put("box-c", "4")).not.toThrow();
});
