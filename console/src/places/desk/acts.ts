/** What can be done with a document at the desk, as calls to the service. */
import { api, ask, writeKey, type Schemas } from "../../api/client";
import type { Changes } from "./edits";
import type { WorkDocument } from "./work";

/** The path, the version that was looked at, and a key so that a repeated send acts once. */
function on(document: WorkDocument, key = writeKey()) {
  return { path: { id: document.id }, header: { "If-Match": document.etag, "Idempotency-Key": key } };
}

export function getDocument(id: number): Promise<WorkDocument> {
  return ask(api.GET("/api/v1/documents/{id}", { params: { path: { id } } }));
}

/** With the key of the try before, a save whose answer was lost is not done a second time. */
export function saveChanges(document: WorkDocument, changes: Changes, key: string): Promise<WorkDocument> {
  return ask(api.PATCH("/api/v1/documents/{id}/fields", { params: on(document, key), body: changes }));
}

export function restoreVersion(document: WorkDocument, number: number): Promise<WorkDocument> {
  return ask(api.POST("/api/v1/documents/{id}/restore", { params: on(document), body: { number } }));
}

export function postDocument(document: WorkDocument, reason: string): Promise<WorkDocument> {
  return ask(api.POST("/api/v1/documents/{id}/post", { params: on(document), body: { reason } }));
}

export function proveFinding(document: WorkDocument, code: string, how: string): Promise<WorkDocument> {
  return ask(api.POST("/api/v1/documents/{id}/prove", { params: on(document), body: { code, how } }));
}

export function discardDocument(document: WorkDocument, reason: string): Promise<WorkDocument> {
  return ask(api.POST("/api/v1/documents/{id}/discard", { params: on(document), body: { reason } }));
}

export function reopenDocument(document: WorkDocument): Promise<WorkDocument> {
  return ask(api.POST("/api/v1/documents/{id}/reopen", { params: on(document), body: { reason: "" } }));
}

export function tryAgain(document: WorkDocument): Promise<WorkDocument> {
  return ask(api.POST("/api/v1/documents/{id}/again", { params: on(document), body: { stage: "", newest_version: false, reason: "" } }));
}

export function holdDocument(document: WorkDocument, until: string | null, reason: string): Promise<WorkDocument> {
  return ask(api.POST("/api/v1/documents/{id}/hold", { params: on(document), body: { until, reason } }));
}

export interface Letter {
  to: string;
  subject: string;
  text: string;
}

export function getLetter(id: number): Promise<Letter> {
  return ask(api.GET("/api/v1/documents/{id}/letter", { params: { path: { id } } }));
}

export function returnDocument(document: WorkDocument, letter: Letter): Promise<WorkDocument> {
  return ask(api.POST("/api/v1/documents/{id}/return", { params: on(document), body: letter }));
}

function unversioned(id: number) {
  return { path: { id }, header: { "Idempotency-Key": writeKey() } };
}

/** Codes of lines by number; null takes back what was said. */
export function codeLines(document: WorkDocument, lines: Schemas["CodeRequest"]["lines"]): Promise<WorkDocument> {
  return ask(api.POST("/api/v1/documents/{id}/coding", { params: on(document), body: { lines } }));
}

/** It waits no more for what comes by itself. */
export function callDocument(document: WorkDocument, reason: string): Promise<WorkDocument> {
  return ask(api.POST("/api/v1/documents/{id}/call", { params: on(document), body: { reason } }));
}

export function letWait(document: WorkDocument): Promise<WorkDocument> {
  return ask(api.POST("/api/v1/documents/{id}/let-wait", { params: on(document), body: { reason: "" } }));
}

export function takeDocument(id: number, person = "", over = false): Promise<WorkDocument> {
  return ask(api.POST("/api/v1/documents/{id}/take", { params: unversioned(id), body: { person, over } }));
}

export function releaseDocument(id: number): Promise<WorkDocument> {
  return ask(api.POST("/api/v1/documents/{id}/release", { params: unversioned(id), body: { reason: "" } }));
}

export function addComment(id: number, text: string) {
  return ask(api.POST("/api/v1/documents/{id}/comments", { params: unversioned(id), body: { text } }));
}

export function getOrdersBeside(id: number) {
  return ask(api.GET("/api/v1/documents/{id}/orders", { params: { path: { id } } }));
}

export function getParties(id: number) {
  return ask(api.GET("/api/v1/documents/{id}/parties", { params: { path: { id } } }));
}

export function getStory(id: number) {
  return ask(api.GET("/api/v1/documents/{id}/history", { params: { path: { id } } }));
}
