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
export interface Deeds {
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

export type Deed = keyof Deeds;

type Told = { params: { path: { number: string }; header: { "Idempotency-Key": string } } };

/** One call for each act. */
const CALLS: { [D in Deed]: (told: Told, body: Deeds[D]) => Promise<{ data?: Packet }> } = {
  reply: (told, body) => api.POST("/api/v1/packets/{number}/messages", { ...told, body }),
  comment: (told, body) => api.POST("/api/v1/packets/{number}/comment", { ...told, body }),
  severity: (told, body) => api.POST("/api/v1/packets/{number}/severity", { ...told, body }),
  escalate: (told, body) => api.POST("/api/v1/packets/{number}/escalate", { ...told, body }),
  contact: (told, body) => api.POST("/api/v1/packets/{number}/contact", { ...told, body }),
  told: (told, body) => api.POST("/api/v1/packets/{number}/told", { ...told, body }),
  accept: (told, body) => api.POST("/api/v1/packets/{number}/accept", { ...told, body }),
  contest: (told, body) => api.POST("/api/v1/packets/{number}/contest", { ...told, body }),
  rate: (told, body) => api.POST("/api/v1/packets/{number}/rate", { ...told, body }),
  close: (told, body) => api.POST("/api/v1/packets/{number}/close", { ...told, body }),
  open_again: (told, body) => api.POST("/api/v1/packets/{number}/open-again", { ...told, body }),
  call: (told, body) => api.POST("/api/v1/packets/{number}/calls", { ...told, body }),
  take_reply: (told, body) => api.POST("/api/v1/packets/{number}/replies", { ...told, body }),
  settle: (told, body) => api.POST("/api/v1/packets/{number}/settle", { ...told, body }),
  hand_over: (told, body) => api.POST("/api/v1/packets/{number}/hand-over", { ...told, body }),
  take_over: (told) => api.POST("/api/v1/packets/{number}/take-over", told),
  access: (told, body) => api.POST("/api/v1/packets/{number}/access", { ...told, body }),
  shipment: (told, body) => api.POST("/api/v1/packets/{number}/shipments", { ...told, body }),
  swap: (told, body) => api.POST("/api/v1/packets/{number}/swap", { ...told, body }),
  reference: (told, body) => api.POST("/api/v1/packets/{number}/reference", { ...told, body }),
};

/** Do an act; `key` stays the same while it is tried again. */
export function useDeed<D extends Deed>(number: string, deed: D) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, { body: Deeds[D]; key: string }>({
    mutationFn: ({ body, key }) =>
      taken(CALLS[deed]({ params: { path: { number }, header: { "Idempotency-Key": key } } }, body)),
    onSuccess: (packet) => {
      keep(cache, packet);
      cache.invalidateQueries({ queryKey: ["hand", number] });
    },
  });
}

/** What is done to one message or question: taken back, passed on, no question. */
export function useMessageAct(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, { act: "take-back" | "pass-on" | "dismiss"; id: string }>({
    mutationFn: ({ act, id }) => {
      if (act === "dismiss") {
        const params = { path: { number, question: id } };
        return taken(api.POST("/api/v1/packets/{number}/questions/{question}/dismiss", { params }));
      }
      const params = { path: { number, message: id } };
      return act === "take-back"
        ? taken(api.POST("/api/v1/packets/{number}/messages/{message}/take-back", { params }))
        : taken(api.POST("/api/v1/packets/{number}/messages/{message}/pass-on", { params }));
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

/** Who of the vendors may come into an asset's systems, and who could. */
export const useAccessOf = (asset: string) =>
  useQuery<Schemas["AccessShown"][], ProblemError>({
    queryKey: ["access-of", asset],
    queryFn: async () => (await taken(api.GET("/api/v1/access", { params: { query: { asset, ended: true } } }))).items,
  });
