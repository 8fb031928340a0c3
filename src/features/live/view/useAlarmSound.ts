import { useEffect, useRef, useState } from 'react';

const KEY = 'alarm-sound';
/** Two tones that change about twice a second: heard over fans. */
const TONES_HZ = [880, 660];
const CHANGE_S = 0.45;

/** Sounds an alarm as long as one lasts that nobody has seen. A browser plays only after a touch, so the sound is switched on once. */
export function useAlarmSound(sounding: boolean): { on: boolean; allowed: boolean; playing: boolean; toggle: () => void } {
  const [on, setOn] = useState(false);
  const [playing, setPlaying] = useState(false);
  const [allowed, setAllowed] = useState(false);
  const context = useRef<AudioContext | null>(null);
  useEffect(() => {
    const own = localStorage.getItem(KEY);
    setOn(own === null ? document.documentElement.dataset.sound !== 'no' : own !== 'off');
    const wake = () => {
      context.current ??= new AudioContext();
      void context.current.resume().then(() => setAllowed(context.current?.state === 'running'));
    };
    addEventListener('pointerdown', wake);
    addEventListener('keydown', wake);
    return () => {
      removeEventListener('pointerdown', wake);
      removeEventListener('keydown', wake);
      void context.current?.close();
      context.current = null;
    };
  }, []);
  useEffect(() => {
    const audio = context.current;
    if (!sounding || !on || !allowed || !audio) return;
    const tone = audio.createOscillator();
    const level = audio.createGain();
    tone.type = 'square';
    level.gain.value = 0.25;
    tone.connect(level).connect(audio.destination);
    const start = audio.currentTime;
    for (let i = 0; i < 1200; i++) tone.frequency.setValueAtTime(TONES_HZ[i % 2], start + i * CHANGE_S);
    tone.start();
    setPlaying(true);
    return () => {
      tone.stop();
      tone.disconnect();
      setPlaying(false);
    };
  }, [sounding, on, allowed]);
  const toggle = () => {
    localStorage.setItem(KEY, on ? 'off' : 'on');
    setOn(!on);
  };
  return { on, allowed, playing, toggle };
}
