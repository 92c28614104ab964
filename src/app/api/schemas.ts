import * as v from 'valibot';

const NAME = v.pipe(
  v.string('Give a name.'),
  v.trim(),
  v.minLength(1, 'Give a name.'),
  v.maxLength(120, 'The name is too long: 120 characters at most.'),
);

/** An address of a page: http or https, nothing else. */
export const PAGE_URL = v.pipe(
  v.string('Give the address of the page.'),
  v.trim(),
  v.maxLength(2_000, 'The address is too long.'),
  v.check(
    (text) => URL.canParse(text),
    'That is not a full address. Write it like https://www.example.test/page.',
  ),
  v.check(
    (text) => !URL.canParse(text) || /^https?:$/.test(new URL(text).protocol),
    'Only http and https addresses can be measured.',
  ),
  v.transform((text) => {
    const url = new URL(text);
    url.hash = '';
    return url.href;
  }),
);

export const ADD_PAGE = v.object({ url: PAGE_URL, name: v.optional(NAME), siteName: v.optional(NAME) });
export const RENAME = v.object({ name: NAME });
export const ADD_JOB = v.object({
  kind: v.picklist(['measure', 'fold', 'trial'], 'There is no such job.'),
  pageId: v.pipe(v.number(), v.integer()),
  conditionsId: v.string(),
});
export const ACCEPT = v.object({
  host: v.pipe(v.string(), v.minLength(1)),
  publicKeyHash: v.pipe(v.string(), v.regex(/^[A-Za-z0-9+/]{43}=$/, 'That is no public key hash.')),
});

const MATCH = v.union([
  v.object({ url: v.string() }),
  v.object({ host: v.string() }),
  v.object({ inline: v.string() }),
]);
const TREATMENTS = {
  stylesheet: ['as-authored', 'fold-css-late', 'late', 'left-out'],
  script: ['as-authored', 'async', 'defer', 'after-libraries', 'delay', 'left-out'],
  font: ['as-authored', 'swap', 'preload', 'swap-preload'],
  host: ['as-authored', 'preconnect', 'dns-prefetch'],
} as const;

/** A plan file: what ./wistrel plan writes and the interface saves. */
export const PLAN = v.object({
  wistrelPlan: v.literal(1, 'This is not a plan file of a version that is known here (wistrelPlan: 1).'),
  page: v.string('A plan names its page.'),
  rules: v.array(
    v.pipe(
      v.object({
        id: v.pipe(v.string(), v.minLength(1)),
        on: v.boolean('Each rule says whether it is on.'),
        kind: v.picklist(
          ['stylesheet', 'script', 'font', 'host'],
          'A rule’s kind is stylesheet, script, font or host.',
        ),
        match: MATCH,
        scope: v.literal('page'),
        treatment: v.picklist(
          [...new Set(Object.values(TREATMENTS).flat())],
          'A rule names no known treatment.',
        ),
        reason: v.string(),
        risk: v.picklist(['low', 'medium', 'high']),
        together: v.optional(v.array(MATCH)),
      }),
      v.check(
        (rule) => (TREATMENTS[rule.kind] as readonly string[]).includes(rule.treatment),
        'A rule’s treatment does not fit its kind.',
      ),
    ),
    'A plan holds a list of rules.',
  ),
});
