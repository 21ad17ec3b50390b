// What the server sends piece by piece.

const END_OF_PIECE = "<!-- end -->"; // as the server writes it

/** Pieces of a page as the server finds them; the whole of one that is sent at once. */
export async function* pieces(answer) {
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  let text = "";
  for (;;) {
    const { done, value } = await reader.read().catch(() => ({ done: true }));
    if (done) break;
    const whole = (text + value).split(END_OF_PIECE);
    text = whole.pop();
    yield* whole;
  }
  if (text.trim() !== "") yield text;
}
