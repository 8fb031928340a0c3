import { endpoint } from '#app/http';
import { studyWorkbook } from '#features/exchange/server/studyWorkbook';

/** All tables of a study as a workbook for spreadsheets. */
export const GET = endpoint(
  (ask) => [ask.id('study')],
  async (id: number) => {
    const { name, bytes } = await studyWorkbook(id);
    return new Response(new Uint8Array(bytes), {
      headers: {
        ...{ 'content-type': 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet', 'cache-control': 'no-store' },
        'content-disposition': `attachment; filename="${name}"`,
      },
    });
  },
);
