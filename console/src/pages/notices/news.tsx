/** What vendors publish about products that we have. */
import { useNews } from "../../api/notices";
import { Nothing } from "../../components/nothing";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayMoment } from "../../format/dates";
import { NoticeTabs } from "./tabs";

export function NewsPage() {
  const news = useNews();
  const broken = news.data?.feeds.filter((one) => one.trouble) ?? [];
  return (
    <PageMain width="text">
      <NoticeTabs />
      <PageTitle>Product news</PageTitle>
      <Soft>What vendors publish about products that you have.</Soft>
      <ProblemNote problem={news.error} />
      {news.isPending && !news.error && <Waiting label="Loading news" />}
      {broken.map((one) => (
        <p key={one.vendor} role="status" className="mt-3 border-l-3 border-ochre px-3 py-1.5">
          The feed of {one.vendor} could not be read: {one.trouble}
        </p>
      ))}
      {news.data?.items.map((one) => (
        <article key={one.id} className="border-b border-line py-3">
          <h2 className="text-[16px]">
            {one.link ? (
              <a className="link" href={one.link} target="_blank" rel="noreferrer">
                {one.title}
              </a>
            ) : (
              one.title
            )}
          </h2>
          <Soft>
            {one.vendor_name} · {sayMoment(one.at)} · {one.products.join(", ")}
          </Soft>
          <p className="mt-1 line-clamp-4">{one.summary}</p>
        </article>
      ))}
      {news.data?.items.length === 0 && (
        <Nothing>
          {news.data.feeds.length
            ? "Nothing about your products yet."
            : "No feeds are configured: SEALPACKET_NEWS_FEEDS names one for each vendor."}
        </Nothing>
      )}
    </PageMain>
  );
}
