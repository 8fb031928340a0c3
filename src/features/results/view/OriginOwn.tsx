import { useState } from 'react';
import { Alert, Tick } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';

/** Says of a study that came in whether this lab measured it; its single mounts and the lab's scatter follow. */
export function OriginOwn({ id, own }: { id: number; own: boolean }) {
  const [problem, setProblem] = useState<string | null>(null);
  const change = async () => {
    if (await sendJson('PUT', `/api/studies/${id}/origin`, { own: !own }, setProblem)) window.location.reload();
  };
  return (
    <>
      <Tick words="Measured by this lab, on another machine" checked={own} onChange={() => void change()} />
      <Alert>{problem}</Alert>
    </>
  );
}
