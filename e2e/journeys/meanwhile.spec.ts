import { expect, seat, signIn, test } from "./app.ts";

test("a draft outlives what somebody else saves, and both are shown before one of them stays", async ({
  page,
}) => {
  await signIn(page);
  await seat(page, "Soren L.").waitFor();
  const room = page.url();
  const api = room.replace("/class/", "/api/classes/").replace(/\/room.*/, "");
  /** Somebody else keeps a rhythm with another longest wait. */
  const keepElsewhere = async (longest: number) => {
    const { now } = (await (
      await page.request.get(`${api}/rhythm`)
    ).json()) as { now: object };
    const kept = await page.request.put(`${api}/rhythm`, {
      data: { ...now, longest },
    });
    expect(kept.status()).toBe(204);
  };
  await page.goto(room.replace(/room.*/, "approach/rhythm"));
  const longest = page.getByLabel("The longest wait");
  await expect(longest).toBeEnabled();
  await keepElsewhere(44);
  await expect(longest, "what is not changed follows").toHaveValue("44");
  await longest.fill("33");
  await page.getByLabel("Checks at one visit").fill("2");
  // The page reads what was kept elsewhere; what was typed stays.
  const again = page.waitForResponse(
    (answer) => answer.url().endsWith("/rhythm") && answer.ok(),
  );
  await keepElsewhere(55);
  await again;
  await expect(longest).toHaveValue("33");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  const dialog = page.getByRole("dialog", {
    name: "Saved by somebody else meanwhile",
  });
  await expect(
    dialog.getByRole("row", { name: "The longest wait 55 meetings 33 meetings" }),
  ).toBeVisible();
  await expect(dialog.getByRole("row")).toHaveCount(3);
  await dialog.getByRole("button", { name: "Go on changing" }).click();
  await expect(longest).toHaveValue("33");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await dialog.getByRole("button", { name: "Save yours instead" }).click();
  const kept = async () => {
    const { now } = (await (
      await page.request.get(`${api}/rhythm`)
    ).json()) as {
      now: { longest: number; maxChecks: number };
    };
    return [now.longest, now.maxChecks];
  };
  await expect.poll(kept).toEqual([33, 2]);
  await expect(dialog).toBeHidden();
  await expect(longest).toHaveValue("33");
});

test("an instrument that was measured while its form was open keeps its new length unless one says otherwise", async ({
  page,
}) => {
  await signIn(page);
  await seat(page, "Soren L.").waitFor();
  const room = page.url();
  const api = room.replace("/class/", "/api/classes/").replace(/\/room.*/, "");
  const read = async () => {
    const answer = await page.request.get(`${api}/instruments`);
    const { assets } = (await answer.json()) as {
      assets: { id: string; tag: string; stringLengthMm?: number }[];
    };
    const found = assets.find(({ tag }) => tag.startsWith("V-"));
    if (!found) throw new Error("the demo has no violin");
    return found;
  };
  const violin = await read();
  await page.goto(room.replace(/room.*/, `set-up/instruments/${violin.id}`));
  const form = page.getByRole("dialog", { name: new RegExp(`^${violin.tag}`) });
  await form
    .getByLabel("Note on its condition")
    .fill("A scratch on the scroll");
  const measured = (violin.stringLengthMm ?? 328) - 2;
  const at = new Date().toISOString();
  const entry = {
    id: crypto.randomUUID(),
    asset: violin.id,
    kind: "measured",
    lengthMm: measured,
    at,
  };
  const log = await page.request.post(`${api}/tapes/log`, {
    data: { entries: [entry] },
  });
  expect(log.status()).toBe(200);
  await form.getByRole("button", { name: "Save", exact: true }).click();
  const dialog = page.getByRole("dialog", {
    name: "Saved by somebody else meanwhile",
  });
  await expect(
    dialog.getByRole("row", { name: /^String, nut to bridge/ }),
  ).toBeVisible();
  await dialog.getByRole("button", { name: "Take what is saved" }).click();
  await expect(form).toBeHidden();
  expect((await read()).stringLengthMm).toBe(measured);
});
