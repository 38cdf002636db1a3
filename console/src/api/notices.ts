/** Notices: the list, how one is notified, vendors' news, and the stream that says when something is new. */

import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Notice = Schemas["NoticeShown"];
export type NoticeSettings = Schemas["NoticeSettingsShown"];
export type NoticeKind = Schemas["NoticeKind"];
type Page = Schemas["NoticePage"];

const EVERY_LIST = ["notices"];

export const useNotices = (unread: boolean) =>
  useInfiniteQuery<Page, ProblemError>({
    queryKey: [...EVERY_LIST, unread],
    initialPageParam: "",
    getNextPageParam: (page) => page.next,
    queryFn: ({ pageParam }) =>
      taken(api.GET("/api/v1/notices", { params: { query: { unread, cursor: String(pageParam) } } })),
  });

export function useMarkNotices() {
  const cache = useQueryClient();
  return useMutation<Page, ProblemError, { ids?: number[]; everything?: boolean; read?: boolean }>({
    mutationFn: ({ ids = [], everything = false, read = true }) =>
      taken(api.POST("/api/v1/notices/read", { body: { ids, everything, read } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: EVERY_LIST }),
  });
}

const SETTINGS = ["notice settings"];

export const useNoticeSettings = () =>
  useQuery<NoticeSettings, ProblemError>({
    queryKey: SETTINGS,
    queryFn: () => taken(api.GET("/api/v1/notices/settings")),
  });

export function useChooseNotices() {
  const cache = useQueryClient();
  return useMutation<NoticeSettings, ProblemError, Schemas["ChoicesBody"]>({
    mutationFn: (body) => taken(api.PUT("/api/v1/notices/settings", { body })),
    onSuccess: (settings) => cache.setQueryData(SETTINGS, settings),
  });
}

export function useNewFeed() {
  const cache = useQueryClient();
  return useMutation<Schemas["NewFeed"], ProblemError, void>({
    mutationFn: () => taken(api.POST("/api/v1/notices/feed")),
    onSuccess: () => cache.invalidateQueries({ queryKey: SETTINGS }),
  });
}

export function useEndFeed() {
  const cache = useQueryClient();
  return useMutation<NoticeSettings, ProblemError, void>({
    mutationFn: () => taken(api.DELETE("/api/v1/notices/feed")),
    onSuccess: (settings) => cache.setQueryData(SETTINGS, settings),
  });
}

export function useSetNoticeWebhook() {
  const cache = useQueryClient();
  return useMutation<Schemas["NewNoticeWebhook"], ProblemError, string>({
    mutationFn: (address) => taken(api.PUT("/api/v1/notices/webhook", { body: { address } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: SETTINGS }),
  });
}

export function useEndNoticeWebhook() {
  const cache = useQueryClient();
  return useMutation<NoticeSettings, ProblemError, void>({
    mutationFn: () => taken(api.DELETE("/api/v1/notices/webhook")),
    onSuccess: (settings) => cache.setQueryData(SETTINGS, settings),
  });
}

export const useNews = () =>
  useQuery<Schemas["News"], ProblemError>({
    queryKey: ["news"],
    queryFn: () => taken(api.GET("/api/v1/news", { params: { query: {} } })),
  });

const STREAM = "/api/v1/notices/stream";
const CHANNEL = "notices";
const RETRY = 10_000;

/** The number of notices that were not read; it follows by itself, and so does what is shown of packets.
 *
 * Of all tabs one listens and tells the others: a browser keeps few connections to one address. */
export function useUnread(): number {
  const cache = useQueryClient();
  const [unread, setUnread] = useState(0);
  useEffect(() => {
    const others = new BroadcastChannel(CHANNEL);
    const ended = new AbortController();
    const take = (count: number, first = false) => {
      setUnread(count);
      if (!first)
        for (const key of ["notices", "today", "packets", "packet", "vendor-health"])
          void cache.invalidateQueries({ queryKey: [key] });
    };
    let last: number | undefined;
    const listen = () => {
      const stream = new EventSource(STREAM);
      stream.addEventListener("notices", (event) => {
        const count = (JSON.parse(event.data) as { unread: number }).unread;
        take(count, last === undefined);
        last = count;
        others.postMessage(count);
      });
      // A browser tries again by itself unless something else than the service has answered.
      stream.onerror = () => {
        if (stream.readyState === EventSource.CLOSED && !ended.signal.aborted) setTimeout(listen, RETRY);
      };
      ended.signal.addEventListener("abort", () => stream.close());
    };
    others.onmessage = (event: MessageEvent<number | "asks">) => {
      if (event.data !== "asks") take(event.data);
      else if (last !== undefined) others.postMessage(last);
    };
    others.postMessage("asks");
    if (navigator.locks) {
      const untilEnd = () =>
        new Promise<void>((resolve) => {
          listen();
          ended.signal.addEventListener("abort", () => resolve());
        });
      navigator.locks.request(CHANNEL, { signal: ended.signal }, untilEnd).catch(() => undefined);
    } else listen();
    return () => {
      ended.abort();
      others.close();
    };
  }, [cache]);
  return unread;
}
