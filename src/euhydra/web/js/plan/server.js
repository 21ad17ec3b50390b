// What the drawing asks of the server. Each answers {ok, ...}; a refusal has a message.

async function post(url, body) {
  try {
    const answer = await fetch(url, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify(body),
    });
    const found = await answer.json();
    return { ok: answer.ok, ...found };
  } catch {
    return { ok: false, message: "The program does not answer: is it still running? Nothing was lost; try again." };
  }
}

/** Keep a change. */
export const keep = (url, change) => post(url, change);

/** What would come of some parts, without keeping them. */
export const attempt = (url, wanted) => post(url, wanted);

/** A piece of a page, or "" where there is none. */
export async function fragment(url) {
  const answer = await fetch(url);
  return answer.ok ? answer.text() : "";
}
