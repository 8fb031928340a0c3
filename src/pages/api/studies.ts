import type { APIRoute } from 'astro';
import { database } from '#db/pool';
import { insertStudy } from '#db/studies';
import { NewStudy } from '#domain/newStudy';
import { check } from '#domain/validation';
import { answer, json, readJson } from '#server/http';
import { Refusal } from '#server/refusal';

/** Opens a study. */
export const POST: APIRoute = ({ request }) =>
  answer(async () => {
    const study = check(NewStudy, await readJson(request));
    const title = study.title.trim();
    const id = await insertStudy(database(), { title, question: study.question?.trim() ?? '', margin_k: study.margin_k, reduction: {} });
    if (id === null) throw new Refusal(`There is already a study "${title}"; take another title.`, 409);
    return json({ id }, 201);
  });
