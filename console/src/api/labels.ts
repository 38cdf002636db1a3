/** Labels on things. */
import { useMutation } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";
import { sendFile } from "./upload";

export const useReadLabel = () =>
  useMutation<Schemas["CodeRead"][], ProblemError, File>({
    mutationFn: async (file) => (await sendFile<Schemas["CodesRead"]>("/api/v1/labels/read", file)).items,
  });

/** The labels of things, saved as a PDF. */
export const usePrintLabels = () =>
  useMutation<void, ProblemError, string[]>({
    mutationFn: async (assets) => {
      const sheet = await taken(api.POST("/api/v1/labels/sheet", { body: { assets }, parseAs: "blob" }));
      const link = document.createElement("a");
      link.href = URL.createObjectURL(sheet as unknown as Blob);
      link.download = "labels.pdf";
      link.click();
      URL.revokeObjectURL(link.href);
    },
  });
