const PAUSE = 700;

/**
 * A part of the page that is loaded when it is first wanted. A load that fails (the server is just being started
 * again) is tried until it comes, so that a room asked for opens late rather than never.
 */
export async function fetched<Part>(load: () => Promise<Part>): Promise<Part> {
  for (;;) {
    try {
      return await load();
    } catch {
      await new Promise((resolve) => setTimeout(resolve, PAUSE));
    }
  }
}
