import { zodResolver } from "@hookform/resolvers/zod";
import { useState } from "react";
import { type DefaultValues, type FieldValues, type Path, useForm } from "react-hook-form";
import type * as z from "zod";
import { ApiError } from "../api/client";

/** A shape whose typed texts become what an act sends. */
export type Shape = z.ZodObject;

/**
 * A form that sends an act. Everything that is missing is said at once, each at its field, and the first is focused;
 * what the server refuses is said at the field that it names, else by `problem`. What was typed stays. `fieldOf`: the
 * form's own name for a field of the server's, where it is another.
 */
export function useActForm<S extends Shape>(
  shape: S,
  start: z.input<S> & FieldValues,
  fieldOf: (field: string) => string | undefined = () => undefined,
) {
  type In = z.input<S> & FieldValues;
  type Out = z.output<S>;
  const [problem, setProblem] = useState<string>();
  const form = useForm<In, unknown, Out>({
    // The resolver's own types cannot follow a shape that is still open.
    resolver: zodResolver(shape as never) as never,
    defaultValues: start as DefaultValues<In>,
  });

  function refuse(error: unknown) {
    const refusals = error instanceof ApiError ? error.fields : [];
    const own = refusals.flatMap(({ field, message }) => {
      const path = field.split(".");
      // "levels.0.air_c" belongs to levels, "weigh_in.gross_g" to the mass of this very form.
      const name =
        fieldOf(field) ?? [path[0], path.at(-1)].find((part) => part !== undefined && part in shape.shape);
      return name === undefined ? [] : [{ name: name as Path<In>, message }];
    });
    own.forEach(({ name, message }, index) => {
      form.setError(name, { message }, { shouldFocus: index === 0 });
    });
    if (own.length === 0) setProblem(error instanceof Error ? error.message : String(error));
  }

  return {
    control: form.control,
    set: form.setValue,
    reset: form.reset,
    problem,
    busy: form.formState.isSubmitting,
    /** What the form does on Enter: check, send, and say what was refused. */
    submit: (send: (values: Out) => Promise<unknown>) => () => {
      setProblem(undefined);
      void form.handleSubmit(async (values) => {
        try {
          await send(values);
        } catch (error) {
          refuse(error);
        }
      })();
    },
    refuse,
  };
}
