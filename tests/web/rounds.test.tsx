// @vitest-environment jsdom
import { QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { act, cleanup, renderHook } from "@testing-library/react";
import { createElement, type ReactNode } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { WholeRound } from "../../web/src/api/client";
import { roundQuery } from "../../web/src/api/queries";
import { useOnRound } from "../../web/src/rooms/signing/use-rounds";

afterEach(cleanup);

const queries = new QueryClient();
const wrapper = ({ children }: { children: ReactNode }) => createElement(QueryClientProvider, { client: queries }, children);
const { queryKey } = roundQuery("r");
const said = (subject: string) => ({ id: "r", subject }) as WholeRound;
const shown = () => queries.getQueryData<WholeRound>(queryKey)?.subject;

/** An answer that comes when the test says so. */
function later() {
  let give: (row: WholeRound) => void = () => undefined;
  const answer = new Promise<WholeRound>((done) => (give = done));
  return { answer, give };
}

/** Two actions on one round, and what reads it anew. */
function round(looks: () => Promise<WholeRound>) {
  const [first, second] = [later(), later()];
  const { result } = renderHook(
    () => ({
      row: useQuery({ queryKey, queryFn: looks, initialData: said("before"), staleTime: Infinity }),
      first: useOnRound<void>("r", () => first.answer),
      second: useOnRound<void>("r", () => second.answer),
    }),
    { wrapper },
  );
  return { result, first, second };
}

describe("a round that is changed twice at once", () => {
  it("shows what the last one made of it, whatever was being read meanwhile", async () => {
    const old = later();
    const looks = vi.fn(() => old.answer);
    const { result, first } = round(looks);
    act(() => result.current.first.mutate());
    void queries.invalidateQueries({ queryKey }); // a poll, begun before the change was through
    await act(async () => first.give(said("changed")));
    await act(async () => old.give(said("before")));
    expect(shown()).toBe("changed");
  });

  it("is read anew once both are answered, as they may be answered in the other order", async () => {
    const looks = vi.fn(async () => said("both"));
    const { result, first, second } = round(looks);
    act(() => result.current.first.mutate());
    act(() => result.current.second.mutate());
    await act(async () => second.give(said("second")));
    expect(looks).not.toHaveBeenCalled();
    await act(async () => first.give(said("first, without the second")));
    await vi.waitFor(() => expect(shown()).toBe("both"));
    expect(looks).toHaveBeenCalledTimes(1);
  });
});
