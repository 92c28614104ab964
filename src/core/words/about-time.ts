/** About how long something takes, as a person says it: "about 40 s", "about 12 min", "about 2 h". @param seconds more than none */
export function aboutTime(seconds: number): string {
  if (seconds < 55) return `about ${Math.max(5, Math.round(seconds / 5) * 5)} s`;
  const minutes = Math.round(seconds / 60);
  if (minutes < 90) return `about ${minutes} min`;
  return `about ${Math.round(minutes / 60)} h`;
}
