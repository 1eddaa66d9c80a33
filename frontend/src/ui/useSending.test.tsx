import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { expect, it } from "vitest";
import { useSending } from "./useSending";

const client = new QueryClient();
const wrapper = ({ children }: { children: ReactNode }) => (
  <QueryClientProvider client={client}>{children}</QueryClientProvider>
);

function sender() {
  const sent: number[] = [];
  const open: (() => void)[] = [];
  const { result } = renderHook(
    () =>
      useSending({
        mutationFn: (number: number) => {
          sent.push(number);
          return new Promise<void>((done) => open.push(done));
        },
      }),
    { wrapper },
  );
  return { sent, open, result };
}

it("a press that repeats before the page has drawn again sends once, and again once it is answered", async () => {
  const { sent, open, result } = sender();
  const { mutate } = result.current;
  act(() => {
    for (let at = 0; at < 8; at += 1) mutate(1);
  });
  await waitFor(() => expect(sent).toEqual([1]));
  await act(async () => open[0]?.());
  await waitFor(() => expect(result.current.isSuccess).toBe(true));
  act(() => mutate(1));
  await waitFor(() => expect(sent).toEqual([1, 1]));
});

it("another thing to send does not wait, and another sender's is not mistaken for it", async () => {
  const [one, other] = [sender(), sender()];
  act(() => {
    one.result.current.mutate(1);
    one.result.current.mutate(2);
    other.result.current.mutate(1);
  });
  await waitFor(() => expect([one.sent, other.sent]).toEqual([[1, 2], [1]]));
});

it("sends by a function that stays the same, so that an effect may lean on it", async () => {
  const { open, result } = sender();
  const { mutate } = result.current;
  act(() => mutate(1));
  await waitFor(() => expect(open).toHaveLength(1));
  expect(result.current.isPending).toBe(true);
  expect(result.current.mutate).toBe(mutate);
});
