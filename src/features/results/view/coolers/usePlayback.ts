import { useEffect, useRef, useState } from 'react';
import { type Clip, playbackGains, strength } from '#core/thermal/noise/playback';

interface Playable {
  id: number;
  level_db: number | null;
}

/** Plays clips one at a time, all as strong as each other or as loud as their levels say. */
export function usePlayback(clips: Playable[]) {
  const [how, setHow] = useState<'matched' | 'measured'>('matched');
  const [playing, setPlaying] = useState<number | null>(null);
  const [told, setTold] = useState<string | null>(null);
  const context = useRef<AudioContext | null>(null);
  const decoded = useRef(new Map<number, { buffer: AudioBuffer; clip: Clip }>());
  const source = useRef<AudioBufferSourceNode | null>(null);
  const stop = () => {
    if (source.current) source.current.onended = null;
    source.current?.stop();
    source.current = null;
    setPlaying(null);
  };
  useEffect(
    () => () => {
      source.current?.stop();
      void context.current?.close();
    },
    [],
  );
  const decode = async (clip: Playable, into: AudioContext) => {
    const known = decoded.current.get(clip.id);
    if (known) return;
    const response = await fetch(`/api/clips/${clip.id}`);
    if (!response.ok) throw new Error('The server does not give the clip.');
    const buffer = await into.decodeAudioData(await response.arrayBuffer());
    const channels = Array.from({ length: buffer.numberOfChannels }, (_, c) => buffer.getChannelData(c));
    decoded.current.set(clip.id, { buffer, clip: { ...strength(channels), level_db: clip.level_db } });
  };
  const play = async (id: number) => {
    stop();
    setTold(null);
    try {
      context.current ??= new AudioContext();
      const into = context.current;
      await into.resume();
      // the factors of all depend on each other, so that all are decoded first
      const failed: number[] = [];
      for (const clip of clips) await decode(clip, into).catch(() => failed.push(clip.id));
      if (failed.includes(id)) throw new Error('This browser cannot play the clip; save it as WAV.');
      const usable = clips.filter((c) => !failed.includes(c.id));
      const gains = playbackGains(
        usable.map((c) => (decoded.current.get(c.id) as { clip: Clip }).clip),
        how,
      );
      const gain = gains[usable.findIndex((c) => c.id === id)];
      if (gain === null) throw new Error(how === 'measured' ? 'No level was measured where this clip was made.' : 'The clip is silent.');
      const node = into.createBufferSource();
      node.buffer = (decoded.current.get(id) as { buffer: AudioBuffer }).buffer;
      const volume = into.createGain();
      volume.gain.value = gain;
      node.connect(volume).connect(into.destination);
      node.onended = () => setPlaying(null);
      node.start();
      source.current = node;
      setPlaying(id);
    } catch (error) {
      setTold((error as Error).message);
    }
  };
  const choose = (next: 'matched' | 'measured') => {
    stop();
    setHow(next);
  };
  return { how, choose, playing, play, stop, told };
}
