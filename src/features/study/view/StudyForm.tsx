import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { NewStudy } from '#features/study/model/newStudy';
import { Alert, Field } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';

/** Opens a study: title, question, and the smallest difference that matters. */
export function StudyForm({ margin_k = 1 }: { margin_k?: number }) {
  const { register, handleSubmit, formState } = useForm<NewStudy>({
    resolver: classValidatorResolver(NewStudy),
    defaultValues: { title: '', question: '', margin_k },
  });
  const [problem, setProblem] = useState<string | null>(null);
  const submit = handleSubmit(async (study) => {
    setProblem(null);
    const answer = await sendJson<{ id: number }>('POST', '/api/studies', study, setProblem);
    if (answer) window.location.assign(`/studies/${answer.id}/plan`);
  });
  const { errors, isSubmitting } = formState;
  return (
    <form onSubmit={submit} noValidate className="flex flex-col gap-3">
      <Field label="Title" error={errors.title?.message}>
        {(p) => <input {...p} {...register('title')} className="field w-full" maxLength={120} />}
      </Field>
      <Field label="Question" error={errors.question?.message}>
        {(p) => (
          <textarea
            {...p}
            {...register('question')}
            rows={3}
            className="field w-full"
            placeholder="What should the reader know at the end?"
          />
        )}
      </Field>
      <Field
        label="Smallest difference that matters / K"
        error={errors.margin_k?.message}
        hint="Differences below this count as equivalent."
      >
        {(p) => <input {...p} {...register('margin_k', { valueAsNumber: true })} type="number" step="any" className="field figure w-28" />}
      </Field>
      <Alert className="">{problem}</Alert>
      <button type="submit" className="act self-start" disabled={isSubmitting}>
        Start the study
      </button>
    </form>
  );
}
