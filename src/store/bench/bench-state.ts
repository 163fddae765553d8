import type { PlayingState } from "../playback/playing.ts";
import type { DocumentState } from "../project/document.ts";
import type { ViewState } from "./view.ts";

/** All of an open project that a screen reads. Each part is written by its own actions alone. */
export interface BenchState extends DocumentState, PlayingState, ViewState {}
