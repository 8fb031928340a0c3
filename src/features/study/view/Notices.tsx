import { useState } from 'react';
import { Alert, Quiet } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';

/** What an upgrade changed in this study, until somebody closes it. */
export function Notices({ notices }: { notices: { id: number; message: string }[] }) {
  const [open, setOpen] = useState(notices);
  const [told, setTold] = useState<string | null>(null);
  return (
    <div>
      {open.map(({ id, message }) => (
        <aside key={id} aria-label="Notice of an upgrade" className="mt-3 flex flex-wrap items-start gap-3 border-l-4 border-ember pl-4">
          <p className="min-w-60 flex-1">{message}</p>
          <Quiet
            onClick={async () => {
              if (await sendJson('DELETE', `/api/notices/${id}`, {}, setTold)) setOpen((o) => o.filter((n) => n.id !== id));
            }}
          >
            Close notice
          </Quiet>
        </aside>
      ))}
      <Alert>{told}</Alert>
    </div>
  );
}
