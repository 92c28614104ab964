'use client';
import { useState } from 'react';

/** Why a rule is not as recommended: kept with the plan, and exported with it. */
export function WhyField({ why, onSay }: { why: string; onSay: (why: string) => void }) {
  const [text, setText] = useState(why);
  const say = () => {
    if (text.trim() !== why) onSay(text.trim());
  };
  return (
    <label style={{ display: 'block', margin: '0 0 8px' }}>
      Why it is not as recommended
      <textarea
        className="small-field"
        style={{ display: 'block', width: '100%', marginTop: 3 }}
        rows={2}
        maxLength={500}
        value={text}
        placeholder="Who asks for it, and what for. It is written into the plan."
        onChange={(event) => setText(event.target.value)}
        onBlur={say}
        onKeyDown={(event) => {
          if (event.key !== 'Enter' || event.shiftKey) return;
          event.preventDefault();
          event.currentTarget.blur();
        }}
      />
    </label>
  );
}
