import { endpoint } from '#app/http';
import { bringSamplesBack } from '#features/run/server/oldSamples';

/** Reads the samples of a run again from its log. */
export const POST = endpoint((ask) => [ask.id('run')], bringSamplesBack);
