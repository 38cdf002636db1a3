/** Packets: list, note, answers, seal, lodge. */

import {
  keepPreviousData,
  type QueryClient,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { asked } from "../sheets/conditions";
import { api, ProblemError, type Schemas, taken } from "./client";
import type { Need } from "./coverage";
import type { operations } from "./schema";

export type Packet = Schemas["PacketShown"];

export type PacketBrief = Schemas["PacketBrief"];

export type Life = Schemas["Life"];

export type Check = Schemas["Check"];

export type Question = Schemas["QuestionShown"];

/** What narrows and sorts the list of packets, as in its address; what is not given narrows nothing. */
export type PacketNarrow = Omit<NonNullable<operations["list_packets"]["parameters"]["query"]>, "limit" | "cursor">;

export const usePackets = (narrow: PacketNarrow) =>
  useInfiniteQuery<Schemas["PacketPage"], ProblemError>({
    queryKey: ["packets", narrow],
    placeholderData: keepPreviousData,
    initialPageParam: "",
    getNextPageParam: (last) => last.next,
    queryFn: ({ pageParam }) =>
      taken(
        api.GET("/api/v1/packets", {
          params: { query: { ...narrow, limit: 100, cursor: pageParam as string } },
        }),
      ),
  });

/** How many open packets there are, by what narrows the list to them. */
export const usePacketCounts = (by: Schemas["CountedBy"], enabled = true) =>
  useQuery<Map<string, number>, ProblemError>({
    queryKey: ["packet-counts", by],
    enabled,
    queryFn: async () => {
      const { items } = await taken(api.GET("/api/v1/packets/counts", { params: { query: { by } } }));
      return new Map(items.map((one) => [one.handle, one.packets]));
    },
  });

/** Do one thing to many packets; it says of each whether it is done. */
export function useTogether() {
  const cache = useQueryClient();
  return useMutation<Schemas["TogetherDone"][], ProblemError, Schemas["Together"]>({
    mutationFn: async (body) => (await taken(api.POST("/api/v1/packets/together", { body }))).items,
    onSuccess: () => cache.invalidateQueries(),
  });
}

export const usePacketsOf = (asset: string) =>
  useQuery<PacketBrief[], ProblemError>({
    queryKey: ["packets-of", asset],
    queryFn: async () => (await taken(api.GET("/api/v1/packets", { params: { query: { asset } } }))).items,
  });

/** Whether a message of ours is being sent just now. */
const isUnderWay = (message: Packet["messages"][number]) =>
  !message.sent && !message.failure && !message.taken_back && message.how === "desk";

/** Whether the worker has something of this packet in hand. */
export function busy(packet: Packet) {
  return (
    packet.exhibits.some((exhibit) => ["receiving", "waiting", "redacting"].includes(exhibit.state)) ||
    (["queued", "sending"].includes(packet.lodge_state ?? "") && !packet.next_try_at) ||
    packet.follow_state === "asking" ||
    packet.kit_runs.some((run) => run.state === "waiting" || run.state === "running") ||
    (!packet.next_try_at && packet.messages.some(isUnderWay))
  );
}

export const usePacket = (number: string) =>
  useQuery<Packet, ProblemError>({
    queryKey: ["packet", number],
    enabled: number !== "",
    queryFn: () => taken(api.GET("/api/v1/packets/{number}", { params: { path: { number } } })),
    refetchInterval: ({ state }) => {
      if (!state.data) return false;
      if (busy(state.data)) return 800;
      return ["lodged", "sealed", "answered"].includes(state.data.life) ? 10_000 : false;
    },
  });

export const useLetter = (packet: Packet) =>
  useQuery<Schemas["Letter"], ProblemError>({
    queryKey: ["letter", packet.number, packet.version],
    queryFn: () => taken(api.GET("/api/v1/packets/{number}/letter", { params: { path: { number: packet.number } } })),
  });

/** Keep what an act brought; a look begun before it knows less, and must not come after it. */
export function keep(cache: QueryClient, packet: Packet) {
  cache.cancelQueries({ queryKey: ["packet", packet.number] });
  cache.setQueryData(["packet", packet.number], packet);
  cache.invalidateQueries({ queryKey: ["today"] });
  cache.invalidateQueries({ queryKey: ["packets"] });
}

export function useNote() {
  const cache = useQueryClient();
  return useMutation<
    Packet,
    ProblemError,
    { title: string; note: string; need: Need; asset: string | null; ticket: string; key: string }
  >({
    mutationFn: ({ key, ...body }) => taken(api.POST("/api/v1/packets", { body, headers: { "Idempotency-Key": key } })),
    onSuccess: (packet) => keep(cache, packet),
  });
}

/** Show a change before the service has confirmed it; take it back if the service refuses. */
function expecting<T>(cache: QueryClient, number: string, change: (packet: Packet, wish: T) => Packet) {
  const mutationKey = ["draft", number];
  return {
    mutationKey,
    /** One after the other: of two changes to one answer the later has to be the last. */
    scope: { id: `draft ${number}` },
    onMutate: (wish: T) => {
      cache.cancelQueries({ queryKey: ["packet", number] });
      const before = cache.getQueryData<Packet>(["packet", number]);
      if (before) cache.setQueryData(["packet", number], change(before, wish));
      return before;
    },
    onError: (_error: ProblemError, _wish: T, before: Packet | undefined) => {
      if (before) cache.setQueryData(["packet", number], before);
    },
    /** Only the last of several changes under way brings the packet: an earlier answer knows too little. */
    onSuccess: (packet: Packet) => {
      if (cache.isMutating({ mutationKey }) === 1) keep(cache, packet);
    },
  };
}

export function useChangePacket(packet: Packet) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, Schemas["PacketChange"], Packet | undefined>({
    ...expecting<Schemas["PacketChange"]>(cache, packet.number, (seen, wish) => ({
      ...seen,
      need: wish.need ?? seen.need,
      logins: seen.logins.map((one) => (wish.login ? { ...one, chosen: one.name === wish.login } : one)),
    })),
    mutationFn: async (body) => {
      const path = { number: packet.number };
      const change = (version: number) =>
        taken(
          api.PATCH("/api/v1/packets/{number}", { params: { path, header: { "If-Match": `"${version}"` } }, body }),
        );
      try {
        return await change(packet.version);
      } catch (error) {
        const newest = isStale(error) && (await taken(api.GET("/api/v1/packets/{number}", { params: { path } })));
        if (newest && !differs(packet, newest, Object.keys(body))) return change(newest.version);
        throw error;
      }
    },
  });
}

const isStale = (error: unknown) => error instanceof ProblemError && error.code === "stale";

/** Whether a packet has changed in one of these fields; a redaction that ended meanwhile, say, is in none of them. */
const differs = (before: Packet, after: Packet, fields: string[]) =>
  fields.some((name) => JSON.stringify(before[name as keyof Packet]) !== JSON.stringify(after[name as keyof Packet]));

export function useAnswer(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, Record<string, string | null>, Packet | undefined>({
    ...expecting<Record<string, string | null>>(cache, number, (seen, wish) => {
      const all = [...seen.questions, ...seen.questions_hidden].map((question) => {
        const value = wish[question.id];
        return value ? { ...question, fault: null, answer: { ...question.answer, value, typed: true } } : question;
      });
      const { shown, hidden } = asked(all, seen.known);
      return { ...seen, questions: shown, questions_hidden: hidden };
    }),
    mutationFn: (answers) =>
      taken(api.PUT("/api/v1/packets/{number}/answers", { params: { path: { number } }, body: { answers } })),
  });
}

type Act = "seal" | "seal-later" | "lodge" | "follow" | "reopen" | "try-now" | "cancel" | "ask-release";

/** Answer a question before the desk asks it; without an answer it does not matter here. */
export function useForeseen(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, { id: string; answer: string }>({
    mutationFn: (body) => taken(api.POST("/api/v1/packets/{number}/foreseen", { params: { path: { number } }, body })),
    onSuccess: (packet) => keep(cache, packet),
  });
}

export function useAct(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, Act>({
    mutationFn: (act) => {
      const params = { params: { path: { number } } };
      switch (act) {
        case "seal":
          return taken(api.POST("/api/v1/packets/{number}/seal", params));
        case "ask-release":
          return taken(api.POST("/api/v1/packets/{number}/release/ask", params));
        case "lodge":
          return taken(api.POST("/api/v1/packets/{number}/lodge", params));
        case "follow":
          return taken(api.POST("/api/v1/packets/{number}/follow", params));
        case "try-now":
          return taken(api.POST("/api/v1/packets/{number}/try-now", params));
        case "cancel":
          return taken(api.POST("/api/v1/packets/{number}/cancel", params));
        case "seal-later":
          return taken(api.POST("/api/v1/packets/{number}/later-bags", params));
        case "reopen":
          return taken(api.POST("/api/v1/packets/{number}/reopen", params));
      }
    },
    onSuccess: (packet) => keep(cache, packet),
  });
}

/** Make a draft about something that is not in the register, which is added. */
export function useUnlisted(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, Schemas["Unlisted"]>({
    mutationFn: (body) => taken(api.POST("/api/v1/packets/{number}/unlisted", { params: { path: { number } }, body })),
    onSuccess: (packet) => keep(cache, packet),
  });
}

/** Give a packet up before the desk has it. */
export function useWithdraw(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, string>({
    mutationFn: (reason) =>
      taken(api.POST("/api/v1/packets/{number}/withdraw", { params: { path: { number } }, body: { reason } })),
    onSuccess: (packet) => keep(cache, packet),
  });
}

export const useSheetChanges = (number: string) =>
  useQuery<Schemas["SheetChanges"], ProblemError>({
    queryKey: ["sheet-changes", number],
    queryFn: () => taken(api.GET("/api/v1/packets/{number}/sheet", { params: { path: { number } } })),
  });

export function useBringAlong(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError>({
    mutationFn: () => taken(api.POST("/api/v1/packets/{number}/sheet", { params: { path: { number } } })),
    onSuccess: (packet) => keep(cache, packet),
  });
}
