import type { APIRoute } from 'astro';
import { answer, json, parseId } from '#server/http';
import { Refusal } from '#server/refusal';
import { runTrace } from '#server/runTrace';

/** Lines of a run between two times, thinned to the columns of a screen. */
export const GET: APIRoute = ({ params, url }) =>
  answer(async () => {
    const number = (name: string) => {
      const text = url.searchParams.get(name);
      if (text === null) return null;
      const value = Number(text);
      if (!Number.isFinite(value)) throw new Refusal(`"${text}" is not a number of seconds.`);
      return value;
    };
    const columns = Math.min(4000, Math.max(50, Math.round(number('columns') ?? 600)));
    return json(await runTrace(parseId(params.id, 'run'), number('from'), number('to'), columns));
  });
