/** Work that goes on at the server, asked after until it has ended. */

const EVERY_MS = 300;

/** Ask for news of work until it has ended, or `onNews` says that no more are wanted. */
export async function follow<T extends { running: boolean }>(
  read: () => Promise<T | null>,
  onNews: (news: T | null) => boolean,
) {
  for (;;) {
    const news = await read();
    if (!onNews(news) || !news?.running) return;
    await new Promise((done) => setTimeout(done, EVERY_MS));
  }
}
