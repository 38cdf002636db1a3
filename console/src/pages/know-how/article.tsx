/** An article, to be read: over its shelf, or over the note that it may answer. */
import Markdown, { type Components } from "react-markdown";
import { type Article, useArticle, useRemoveArticle } from "../../api/knowledge";
import { Button } from "../../components/button";
import { Dialog } from "../../components/dialog";
import { ProblemNote } from "../../components/problem-note";
import { sayDay } from "../../format/dates";
import { Forget } from "./shelf";

interface Props {
  name: string;
  onClose: () => void;
  /** Opens it to be corrected; not there for those who may not. */
  onWrite?: ((article: Article) => void) | undefined;
}

export default function ArticleDialog({ name, onClose, onWrite }: Props) {
  const article = useArticle(name);
  const remove = useRemoveArticle();
  return (
    <Dialog open onChange={(open) => !open && onClose()} title={article.data?.title ?? name} className="p-5">
      <ProblemNote problem={article.error} />
      {article.data && (
        <>
          <p className="mb-2 text-soft">
            {article.data.by}, {sayDay(article.data.written_on)}
          </p>
          <div className="article">
            <Markdown components={PARTS}>{article.data.text}</Markdown>
          </div>
          {onWrite && (
            <div className="mt-4 flex gap-3">
              <Button
                onClick={() => {
                  onClose();
                  onWrite(article.data);
                }}
              >
                Correct it
              </Button>
              <Forget problem={remove.error} onForget={() => remove.mutate(name, { onSuccess: onClose })} />
            </div>
          )}
        </>
      )}
    </Dialog>
  );
}

/** Headings stand below the dialog's own; links leave in a tab of their own; a picture elsewhere is not fetched. */
const PARTS: Components = {
  h1: ({ children }) => <h3>{children}</h3>,
  h2: ({ children }) => <h4>{children}</h4>,
  h3: ({ children }) => <h5>{children}</h5>,
  a: ({ href, children }) => (
    <a href={href} className="link" target="_blank" rel="noreferrer">
      {children}
    </a>
  ),
  img: ({ alt, src }) => (
    <a href={typeof src === "string" ? src : undefined} className="link" target="_blank" rel="noreferrer">
      picture: {alt || "without words"}
    </a>
  ),
};
