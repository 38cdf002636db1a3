/** Passkeys, as hooks over the typed client; the browser makes and uses them. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";
import { useSignedIn } from "./session";

export type Passkey = Schemas["PasskeyShown"];

type Options = Record<string, unknown>;

/** The parts of WebAuthn level 3 that TypeScript does not know everywhere yet. */
interface Json {
  parseCreationOptionsFromJSON(options: Options): PublicKeyCredentialCreationOptions;
  parseRequestOptionsFromJSON(options: Options): PublicKeyCredentialRequestOptions;
}

const parser = () => window.PublicKeyCredential as unknown as Json;

export const usePasskeys = () =>
  useQuery<Passkey[], ProblemError>({
    queryKey: ["passkeys"],
    queryFn: async () => (await taken(api.GET("/api/v1/me/passkeys"))).items,
  });

export function useAddPasskey() {
  const cache = useQueryClient();
  return useMutation<Passkey, ProblemError | DOMException, string>({
    mutationFn: async (name) => {
      const { options } = await taken(api.POST("/api/v1/me/passkeys/begin"));
      const made = await navigator.credentials.create({ publicKey: parser().parseCreationOptionsFromJSON(options) });
      return taken(api.POST("/api/v1/me/passkeys", { body: { name, credential: asJson(made) } }));
    },
    onSuccess: () => cache.invalidateQueries({ queryKey: ["passkeys"] }),
  });
}

export function useRemovePasskey() {
  const cache = useQueryClient();
  return useMutation<Schemas["Done"], ProblemError, string>({
    mutationFn: (ident) => taken(api.DELETE("/api/v1/me/passkeys/{ident}", { params: { path: { ident } } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["passkeys"] }),
  });
}

export function usePasskeySignIn() {
  return useMutation<Schemas["Me"], ProblemError | DOMException, void>({
    mutationFn: async () => {
      const { options } = await taken(api.POST("/api/v1/sign-in/passkey/begin"));
      const used = await navigator.credentials.get({ publicKey: parser().parseRequestOptionsFromJSON(options) });
      return taken(api.POST("/api/v1/sign-in/passkey", { body: { credential: asJson(used) } }));
    },
    onSuccess: useSignedIn(),
  });
}

function asJson(credential: Credential | null): Options {
  return (credential as PublicKeyCredential & { toJSON(): Options }).toJSON();
}
