import createClient from "openapi-fetch";
import { ref } from "vue";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type JobFull = Schemas["JobFull"];
export type JobCard = Schemas["JobCard"];
export type TaskState = Schemas["TaskState"];

export const api = createClient<paths>({ baseUrl: "/" });

/** Told once when the server is another program than the one this page came from. */
export const updated = ref(false);
let mine: string | null = null;
api.use({
  onResponse({ response }) {
    const theirs = response.headers.get("x-canonis-page");
    mine ??= theirs;
    if (theirs && theirs !== mine) updated.value = true;
  },
});

/** What went wrong, in the server's one sentence. */
export class Refusal extends Error {
  constructor(
    message: string,
    readonly status: number,
  ) {
    super(message);
  }
}

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The data of an answer, or a Refusal with the server's sentence. */
export async function take<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await call;
  } catch {
    throw new Refusal("The server does not answer; your work is kept, it goes on when the server is back.", 0);
  }
  if (!answer.response.ok) {
    const detail = (answer.error as { detail?: unknown } | undefined)?.detail;
    throw new Refusal(
      typeof detail === "string" ? detail : `The server refused this (${answer.response.status}).`,
      answer.response.status,
    );
  }
  return answer.data as T;
}

/** A file as the body of a request; the types made from the schema call its bytes a string. */
export function withFile(file: File) {
  return {
    body: { file: file.name },
    bodySerializer: () => {
      const form = new FormData();
      form.append("file", file);
      return form;
    },
  };
}
