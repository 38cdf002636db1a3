/** What comes after the reference: answers, files, acts at the desk, and what a person brings in. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";
import { keep, type Packet } from "./packets";

export type Message = Packet["messages"][number];
export type Asked = Message["questions"][number];
export type HandGuide = Schemas["HandGuide"];
export type HandBy = Schemas["Tick"]["by"] & string;

/** What would leave of an answer; asked for when a person wants to look it over. */
export const useReplyPreview = (number: string, text: string) =>
  useQuery<Schemas["TypedShown"], ProblemError>({
    queryKey: ["reply-preview", number, text],
    enabled: text.trim() !== "",
    queryFn: () =>
      taken(api.POST("/api/v1/packets/{number}/messages/preview", { params: { path: { number } }, body: { text } })),
  });

/** Each act with what belongs to it. */
export interface Actions {
  reply: Schemas["Reply"];
  comment: Schemas["Comment"];
  severity: Schemas["Level"];
  escalate: Schemas["Escalation"];
  contact: Schemas["Contact"];
  told: Schemas["PeopleTold"];
  accept: Schemas["Act"];
  contest: Schemas["Act"];
  rate: Schemas["Rating"];
  close: Schemas["Act"];
  open_again: Schemas["Act"];
  call: Schemas["Call"];
  take_reply: Schemas["Brought"];
  settle: Schemas["End"];
  hand_over: Schemas["HandOver"];
  take_over: Record<string, never>;
  reference: Schemas["Reference"];
  access: Schemas["Granted"];
  shipment: Schemas["Sent"];
  swap: Schemas["Swap"];
}

export type Action = keyof Actions;

type Call = { params: { path: { number: string }; header: { "Idempotency-Key": string } } };

/** One call for each act. */
const CALLS: { [D in Action]: (call: Call, body: Actions[D]) => Promise<{ data?: Packet }> } = {
  reply: (call, body) => api.POST("/api/v1/packets/{number}/messages", { ...call, body }),
  comment: (call, body) => api.POST("/api/v1/packets/{number}/comment", { ...call, body }),
  severity: (call, body) => api.POST("/api/v1/packets/{number}/severity", { ...call, body }),
  escalate: (call, body) => api.POST("/api/v1/packets/{number}/escalate", { ...call, body }),
  contact: (call, body) => api.POST("/api/v1/packets/{number}/contact", { ...call, body }),
  told: (call, body) => api.POST("/api/v1/packets/{number}/told", { ...call, body }),
  accept: (call, body) => api.POST("/api/v1/packets/{number}/accept", { ...call, body }),
  contest: (call, body) => api.POST("/api/v1/packets/{number}/contest", { ...call, body }),
  rate: (call, body) => api.POST("/api/v1/packets/{number}/rate", { ...call, body }),
  close: (call, body) => api.POST("/api/v1/packets/{number}/close", { ...call, body }),
  open_again: (call, body) => api.POST("/api/v1/packets/{number}/open-again", { ...call, body }),
  call: (call, body) => api.POST("/api/v1/packets/{number}/calls", { ...call, body }),
  take_reply: (call, body) => api.POST("/api/v1/packets/{number}/replies", { ...call, body }),
  settle: (call, body) => api.POST("/api/v1/packets/{number}/settle", { ...call, body }),
  hand_over: (call, body) => api.POST("/api/v1/packets/{number}/hand-over", { ...call, body }),
  take_over: (call) => api.POST("/api/v1/packets/{number}/take-over", call),
  access: (call, body) => api.POST("/api/v1/packets/{number}/access", { ...call, body }),
  shipment: (call, body) => api.POST("/api/v1/packets/{number}/shipments", { ...call, body }),
  swap: (call, body) => api.POST("/api/v1/packets/{number}/swap", { ...call, body }),
  reference: (call, body) => api.POST("/api/v1/packets/{number}/reference", { ...call, body }),
};

/** Do an act; `key` stays the same while it is tried again. */
export function useAction<D extends Action>(number: string, action: D) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, { body: Actions[D]; key: string }>({
    mutationFn: ({ body, key }) =>
      taken(CALLS[action]({ params: { path: { number }, header: { "Idempotency-Key": key } } }, body)),
    onSuccess: (packet) => {
      keep(cache, packet);
      cache.invalidateQueries({ queryKey: ["hand", number] });
    },
  });
}

/** What is done to one message or question: taken back, passed on, no question, a call that was not wished. */
export function useMessageAct(number: string) {
  const cache = useQueryClient();
  return useMutation<
    Packet,
    ProblemError,
    { act: "take-back" | "pass-on" | "dismiss" | "unwished" | "wished"; id: string }
  >({
    mutationFn: ({ act, id }) => {
      if (act === "dismiss") {
        const params = { path: { number, question: id } };
        return taken(api.POST("/api/v1/packets/{number}/questions/{question}/dismiss", { params }));
      }
      const params = { path: { number, message: id } };
      if (act === "unwished" || act === "wished") {
        const body = { unwished: act === "unwished" };
        return taken(api.POST("/api/v1/packets/{number}/messages/{message}/unwished", { params, body }));
      }
      return act === "take-back"
        ? taken(api.POST("/api/v1/packets/{number}/messages/{message}/take-back", { params }))
        : taken(api.POST("/api/v1/packets/{number}/messages/{message}/pass-on", { params }));
    },
    onSuccess: (packet) => keep(cache, packet),
  });
}

/** Take a change that follows from an answer into the register, leave it, or undo that. */
export function useConsequenceAct(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, { act: "take" | "dismiss" | "undo"; id: string }>({
    mutationFn: ({ act, id }) => {
      const params = { path: { number, ident: id } };
      switch (act) {
        case "take":
          return taken(api.POST("/api/v1/packets/{number}/consequences/{ident}/take", { params }));
        case "dismiss":
          return taken(api.POST("/api/v1/packets/{number}/consequences/{ident}/dismiss", { params }));
        case "undo":
          return taken(api.POST("/api/v1/packets/{number}/consequences/{ident}/undo", { params }));
      }
    },
    onSuccess: (packet) => keep(cache, packet),
  });
}

/** Note a packet that follows an ended one. */
export function useFollowUp(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, Schemas["Following"]>({
    mutationFn: (body) => taken(api.POST("/api/v1/packets/{number}/follow-up", { params: { path: { number } }, body })),
    onSuccess: (packet) => keep(cache, packet),
  });
}

/** What to enter at a desk that is reached by hand. */
export const useHandGuide = (packet: Packet, by: HandBy = "") =>
  useQuery<HandGuide, ProblemError>({
    queryKey: ["hand", packet.number, by],
    enabled: packet.by_hand,
    queryFn: () =>
      taken(api.GET("/api/v1/packets/{number}/hand", { params: { path: { number: packet.number }, query: { by } } })),
  });

export function useTick(number: string, by: HandBy) {
  const cache = useQueryClient();
  return useMutation<HandGuide, ProblemError, Schemas["Tick"]>({
    scope: { id: `hand ${number}` },
    mutationFn: (body) =>
      taken(api.PUT("/api/v1/packets/{number}/hand/fields", { params: { path: { number } }, body: { ...body, by } })),
    onMutate: (wish) => {
      cache.setQueryData<HandGuide>(["hand", number, by], (seen) => seen && ticked(seen, wish));
    },
    onSuccess: (guide) => cache.setQueryData(["hand", number, by], guide),
  });
}

const ticked = (guide: HandGuide, wish: Schemas["Tick"]): HandGuide => ({
  ...guide,
  cases: guide.cases.map((one) =>
    one.label === (wish.case ?? "")
      ? { ...one, fields: one.fields.map((f) => (f.label === wish.field ? { ...f, entered: wish.done ?? true } : f)) }
      : one,
  ),
});

/** Store a vendor's file with the packet's asset. */
export function useStoreWithAsset(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, string>({
    mutationFn: (file) =>
      taken(
        api.POST("/api/v1/packets/{number}/files/{file}/asset", {
          params: { path: { number, file } },
          body: { asset: "" },
        }),
      ),
    onSuccess: (packet) => keep(cache, packet),
  });
}

/** Files of vendors that are stored with an asset. */
export const useAssetFiles = (asset: string) =>
  useQuery<Schemas["VendorFileShown"][], ProblemError>({
    queryKey: ["asset-files", asset],
    queryFn: async () =>
      (await taken(api.GET("/api/v1/assets/{ident}/files", { params: { path: { ident: asset } } }))).items,
  });

/** Bring something from the tray to its packet, or take it out. */
export function useTray() {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, { item: string; number?: string; reason?: string }>({
    mutationFn: ({ item, number, reason }) =>
      number
        ? taken(api.POST("/api/v1/tray/{item}/attach", { params: { path: { item } }, body: { number } }))
        : taken(
            api.POST("/api/v1/tray/{item}/discard", { params: { path: { item } }, body: { reason: reason ?? "" } }),
          ),
    onSuccess: () => {
      cache.invalidateQueries({ queryKey: ["today"] });
      cache.invalidateQueries({ queryKey: ["packet"] });
    },
  });
}

/** End a vendor's access, or note that a shipment has arrived. */
export function useOver() {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, { access?: string; shipment?: string }>({
    mutationFn: ({ access, shipment }) =>
      access
        ? taken(api.POST("/api/v1/access/{access}/end", { params: { path: { access } }, body: { how: "" } }))
        : taken(
            api.POST("/api/v1/shipments/{shipment}/arrived", {
              params: { path: { shipment: shipment ?? "" } },
              body: {},
            }),
          ),
    onSuccess: (packet) => keep(cache, packet),
  });
}

/** Note that a replacement has arrived, check its label, and swap it for the packet's asset. */
export function useReceiveUnit(shipment: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, string>({
    mutationFn: (label) =>
      taken(api.POST("/api/v1/shipments/{shipment}/unit", { params: { path: { shipment } }, body: { label } })),
    onSuccess: (packet) => keep(cache, packet),
  });
}

/** Who of the vendors may come into an asset's systems, and who could. */
export const useAccessOf = (asset: string) =>
  useQuery<Schemas["AccessShown"][], ProblemError>({
    queryKey: ["access-of", asset],
    queryFn: async () => (await taken(api.GET("/api/v1/access", { params: { query: { asset, ended: true } } }))).items,
  });

/** Asks the vendor, in a packet of its own, for what a draft's ruling lacks. */
export function useAskForCure(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, string>({
    mutationFn: (cure) =>
      taken(api.POST("/api/v1/packets/{number}/ask-for-cure", { params: { path: { number } }, body: { cure } })),
    onSuccess: () => cache.invalidateQueries(),
  });
}

/** Notes a claim that goes on from a packet, with its answers and exhibits. */
export function useClaim(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, string>({
    mutationFn: (note) =>
      taken(api.POST("/api/v1/packets/{number}/claim", { params: { path: { number } }, body: { note } })),
    onSuccess: (packet) => keep(cache, packet),
  });
}

/** Names a colleague who is not in the register; they are kept for the next time. */
export function useNameColleague(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, Schemas["Colleague"]>({
    mutationFn: (body) => taken(api.POST("/api/v1/packets/{number}/colleague", { params: { path: { number } }, body })),
    onSuccess: (packet) => keep(cache, packet),
  });
}
