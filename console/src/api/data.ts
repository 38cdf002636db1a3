/** What pages read and do, as hooks over the typed client. */
import {
  keepPreviousData,
  type QueryClient,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { asked } from "../sheets/conditions";
import { api, type ProblemError, rememberCsrf, type Schemas, taken } from "./client";

export type Packet = Schemas["PacketShown"];
export type PacketBrief = Schemas["PacketBrief"];
export type Exhibit = Schemas["ExhibitShown"];
export type Asset = Schemas["AssetShown"];
export type Check = Schemas["Check"];
export type Ruling = Schemas["Ruling"];
export type Question = Schemas["QuestionShown"];
export type Me = Schemas["Me"];
export type Need = Ruling["need"];

export function useMe() {
  return useQuery<Me, ProblemError>({
    queryKey: ["me"],
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
    queryFn: async () => {
      const me = await taken(api.GET("/api/v1/me"));
      rememberCsrf(me.csrf);
      return me;
    },
  });
}

export function useSignIn() {
  const cache = useQueryClient();
  return useMutation<Me, ProblemError, { name: string; password: string }>({
    mutationFn: (body) => taken(api.POST("/api/v1/sign-in", { body })),
    onSuccess: (me) => {
      rememberCsrf(me.csrf);
      cache.removeQueries({ predicate: (query) => query.queryKey[0] !== "me" });
      cache.setQueryData(["me"], me);
    },
  });
}

export function useSignOut() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: () => taken(api.POST("/api/v1/sign-out")),
    onSettled: () => {
      cache.clear();
      window.location.assign("/");
    },
  });
}

export const useToday = () =>
  useQuery<Schemas["Today"], ProblemError>({
    queryKey: ["today"],
    queryFn: () => taken(api.GET("/api/v1/today")),
    refetchInterval: 20_000,
  });

export const usePackets = (life: string, query: string) =>
  useInfiniteQuery<Schemas["PacketPage"], ProblemError>({
    queryKey: ["packets", life, query],
    placeholderData: keepPreviousData,
    initialPageParam: "",
    getNextPageParam: (last) => last.next,
    queryFn: ({ pageParam }) =>
      taken(
        api.GET("/api/v1/packets", {
          params: { query: { life, q: query, limit: 100, cursor: pageParam as string } },
        }),
      ),
  });

export const usePacketsOf = (asset: string) =>
  useQuery<PacketBrief[], ProblemError>({
    queryKey: ["packets-of", asset],
    queryFn: async () => (await taken(api.GET("/api/v1/packets", { params: { query: { asset } } }))).items,
  });

export const useAssets = (query: string) =>
  useQuery<Asset[], ProblemError>({
    queryKey: ["assets", query],
    placeholderData: keepPreviousData,
    queryFn: async () =>
      (await taken(api.GET("/api/v1/assets", { params: { query: { q: query, limit: 100 } } }))).items,
  });

export const useAsset = (handle: string) =>
  useQuery<Asset, ProblemError>({
    queryKey: ["asset", handle],
    queryFn: () => taken(api.GET("/api/v1/assets/{handle}", { params: { path: { handle } } })),
  });

export const useCoverage = (asset: string, need: Need) =>
  useQuery<Ruling, ProblemError>({
    queryKey: ["coverage", asset, need],
    placeholderData: keepPreviousData,
    queryFn: () => taken(api.GET("/api/v1/coverage", { params: { query: { asset, need } } })),
  });

export const useFind = (query: string) =>
  useQuery<Schemas["Found"], ProblemError>({
    queryKey: ["find", query],
    enabled: query.trim().length > 1,
    placeholderData: keepPreviousData,
    queryFn: () => taken(api.GET("/api/v1/find", { params: { query: { q: query.trim() } } })),
  });

/** Whether the worker has something of this packet in hand. */
export function busy(packet: Packet) {
  return (
    packet.exhibits.some((exhibit) => ["receiving", "waiting", "redacting"].includes(exhibit.state)) ||
    ["queued", "sending"].includes(packet.lodge_state ?? "") ||
    packet.follow_state === "asking" ||
    packet.messages.some((message) => !message.sent && !message.failure)
  );
}

export const usePacket = (number: string) =>
  useQuery<Packet, ProblemError>({
    queryKey: ["packet", number],
    queryFn: () => taken(api.GET("/api/v1/packets/{number}", { params: { path: { number } } })),
    refetchInterval: ({ state }) => {
      if (!state.data) return false;
      if (busy(state.data)) return 800;
      return ["lodged", "sealed", "answered"].includes(state.data.life) ? 10_000 : false;
    },
  });

/** Which findings of an exhibit one looks at: those of a kind, or of one value. */
export interface Looking {
  at: number;
  kind: string;
  placeholder: string;
  /** Or from this line on; 0 for around the finding. */
  line: number;
}

export const useReview = (
  number: string,
  name: string,
  { at, kind, placeholder, line }: Looking,
  lines: number,
  wanted: boolean,
) =>
  useQuery<Schemas["Review"], ProblemError>({
    enabled: wanted,
    queryKey: ["review", number, name, at, kind, placeholder, line, lines],
    placeholderData: keepPreviousData,
    queryFn: () =>
      taken(
        api.GET("/api/v1/packets/{number}/exhibits/{name}/review", {
          params: { path: { number, name }, query: { at, kind, lines, placeholder, line } },
        }),
      ),
  });

export type Decision = Schemas["DecisionShown"];

export const useValues = (number: string, name: string, kind: string, q: string) =>
  useQuery<Schemas["Values"], ProblemError>({
    queryKey: ["review", number, name, "values", kind, q],
    placeholderData: keepPreviousData,
    queryFn: () =>
      taken(
        api.GET("/api/v1/packets/{number}/exhibits/{name}/values", {
          params: { path: { number, name }, query: { kind, q } },
        }),
      ),
  });

export const useDecisions = (number: string, wanted: boolean) =>
  useQuery<Schemas["Decisions"], ProblemError>({
    queryKey: ["decisions", number],
    enabled: wanted,
    queryFn: () => taken(api.GET("/api/v1/packets/{number}/decisions", { params: { path: { number } } })),
  });

/** Kinds that nothing can have kept. */
export function useFloor(wanted: boolean): string[] {
  const plan = useQuery<Schemas["RedactionPlanShown"], ProblemError>({
    queryKey: ["redaction-plan"],
    enabled: wanted,
    staleTime: 60_000,
    queryFn: () => taken(api.GET("/api/v1/redaction-plan")),
  });
  return plan.data?.floor ?? [];
}

export function useDecide(number: string) {
  const cache = useQueryClient();
  return useMutation<Schemas["Decisions"], ProblemError, { undo: string } | Schemas["Decision"]>({
    mutationFn: (act) =>
      "undo" in act
        ? taken(
            api.DELETE("/api/v1/packets/{number}/decisions/{ident}", {
              params: { path: { number, ident: act.undo } },
            }),
          )
        : taken(api.POST("/api/v1/packets/{number}/decisions", { params: { path: { number } }, body: act })),
    onSuccess: (made) => {
      cache.setQueryData(["decisions", number], made);
      cache.invalidateQueries({ queryKey: ["packet", number] });
      cache.invalidateQueries({ queryKey: ["review", number] });
      cache.invalidateQueries({ queryKey: ["letter", number] });
      cache.invalidateQueries({ queryKey: ["reply-preview", number] });
    },
  });
}

/** The legend, once it was opened with a reason: kept only as long as the page stays. */
export const useLegend = (number: string) =>
  useMutation<Schemas["LegendShown"], ProblemError, string>({
    mutationFn: (reason) =>
      taken(api.POST("/api/v1/packets/{number}/legend", { params: { path: { number } }, body: { reason } })),
  });

export const useLetter = (packet: Packet) =>
  useQuery<Schemas["Letter"], ProblemError>({
    queryKey: ["letter", packet.number, packet.version],
    queryFn: () => taken(api.GET("/api/v1/packets/{number}/letter", { params: { path: { number: packet.number } } })),
  });

/** Keep what an act brought; a look begun before it knows less, and must not come after it. */
function keep(cache: QueryClient, packet: Packet) {
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
    { title: string; note: string; need: Need; asset: string | null; key: string }
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
    mutationFn: (body) =>
      taken(
        api.PATCH("/api/v1/packets/{number}", {
          params: { path: { number: packet.number } },
          headers: { "If-Match": `"${packet.version}"` },
          body,
        }),
      ),
  });
}

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

type Act = "seal" | "lodge" | "follow" | "reopen";

export function useAct(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, Act>({
    mutationFn: (act) => {
      const params = { params: { path: { number } } };
      switch (act) {
        case "seal":
          return taken(api.POST("/api/v1/packets/{number}/seal", params));
        case "lodge":
          return taken(api.POST("/api/v1/packets/{number}/lodge", params));
        case "follow":
          return taken(api.POST("/api/v1/packets/{number}/follow", params));
        case "reopen":
          return taken(api.POST("/api/v1/packets/{number}/reopen", params));
      }
    },
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

/** What would leave of an answer; asked for when a person wants to look it over. */
export const useReplyPreview = (number: string, text: string) =>
  useQuery<Schemas["TypedShown"], ProblemError>({
    queryKey: ["reply-preview", number, text],
    enabled: text.trim() !== "",
    queryFn: () =>
      taken(api.POST("/api/v1/packets/{number}/messages/preview", { params: { path: { number } }, body: { text } })),
  });

export function useReply(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, { text: string; key: string }>({
    mutationFn: ({ text, key }) =>
      taken(
        api.POST("/api/v1/packets/{number}/messages", {
          params: { path: { number } },
          body: { text },
          headers: { "Idempotency-Key": key },
        }),
      ),
    onSuccess: (packet) => keep(cache, packet),
  });
}

export function useExhibitAct(number: string) {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, { act: "remove" | "redact" | "release"; name: string; reason?: string }>({
    mutationFn: ({ act, name, reason }) => {
      const params = { params: { path: { number, name } } };
      if (act === "remove") return taken(api.DELETE("/api/v1/packets/{number}/exhibits/{name}", params));
      if (act === "redact") return taken(api.POST("/api/v1/packets/{number}/exhibits/{name}/redact", params));
      return taken(
        api.POST("/api/v1/packets/{number}/exhibits/{name}/release", { ...params, body: { reason: reason ?? "" } }),
      );
    },
    onSettled: () => {
      cache.invalidateQueries({ queryKey: ["packet", number] });
      cache.invalidateQueries({ queryKey: ["review", number] });
    },
  });
}

export type Desk = Schemas["DeskShown"];
export type SheetPreview = Schemas["SheetPreview"];

export const useDesks = () =>
  useQuery<Desk[], ProblemError>({
    queryKey: ["desks"],
    queryFn: async () => (await taken(api.GET("/api/v1/desks"))).items,
  });

export const useDesk = (key: string) =>
  useQuery<Schemas["DeskWithSheet"], ProblemError>({
    queryKey: ["desk", key],
    queryFn: () => taken(api.GET("/api/v1/desks/{key}", { params: { path: { key } } })),
  });

/** What is found in a sheet as it is typed, and a sample of what it makes. */
export const useSheetPreview = (yaml: string, seed: number, need: string) =>
  useQuery<SheetPreview, ProblemError>({
    queryKey: ["sheet-preview", yaml, seed, need],
    enabled: yaml.trim() !== "",
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 10_000,
    queryFn: () => taken(api.POST("/api/v1/desks/preview", { body: { yaml, seed, need } })),
  });

export function usePutSheet() {
  const cache = useQueryClient();
  return useMutation<Desk, ProblemError, string>({
    mutationFn: (yaml) => taken(api.POST("/api/v1/desks", { body: { yaml } })),
    onSuccess: (desk) => {
      cache.invalidateQueries({ queryKey: ["desks"] });
      cache.invalidateQueries({ queryKey: ["desk", desk.key] });
    },
  });
}

export function useTrySheet() {
  return useMutation<Schemas["Trial"], ProblemError, { yaml: string; asset: string; need: Need; seed: number }>({
    mutationFn: async (body) => {
      let trial = await taken(api.POST("/api/v1/desks/trials", { body }));
      while (!trial.done) {
        await new Promise((ready) => setTimeout(ready, 400));
        trial = await taken(api.GET("/api/v1/desks/trials/{ident}", { params: { path: { ident: trial.id } } }));
      }
      return trial;
    },
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
