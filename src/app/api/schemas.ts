import * as v from 'valibot';
import { splitSelectors } from '@/core/css/selectors';
import { VISIT_KINDS } from '@/core/measure/visit';
import { CONDITIONS_LIMITS } from '../../core/measure/conditions.ts';
import { RULE_KINDS, type RuleKind } from '../../core/treat/plan.ts';
import { treatmentOf } from '../../core/treat/treatments/index.ts';
import { KNOWN_BY } from '../../core/treat/wide-decisions.ts';

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
  v.minLength(1, 'Give the address of the page.'),
  v.maxLength(2_000, 'The address is too long.'),
  // Of many addresses the wrong one has to be known by its sentence.
  v.check(
    (text) => URL.canParse(text),
    ({ input }) => `“${input}” is not a full address. Write it like https://www.example.test/page.`,
  ),
  v.check(
    (text) => !URL.canParse(text) || /^https?:$/.test(new URL(text).protocol),
    ({ input }) => `“${input}” cannot be measured: only http and https addresses can.`,
  ),
  v.transform((text) => {
    const url = new URL(text);
    url.hash = '';
    return url.href;
  }),
);

export const ADD_PAGE = v.object({ url: PAGE_URL, name: v.optional(NAME), siteName: v.optional(NAME) });
export const RENAME = v.object({ name: NAME });
export const CHANGE_PAGE = v.object({
  name: v.optional(NAME),
  move: v.optional(v.picklist(['up', 'down'])),
});
/** Pages by their numbers, at least one. */
export const SOME_PAGES = v.pipe(
  v.array(v.pipe(v.number(), v.integer())),
  v.minLength(1, 'Name at least one page.'),
);
export const MANY_PAGES = v.object({ pageIds: SOME_PAGES });
export const PUT_IN_FAMILY = v.object({
  pageIds: SOME_PAGES,
  family: v.pipe(v.string(), v.trim(), v.maxLength(120, 'The name of the family is too long.')),
});
export const ADD_PAGES = v.object({
  pages: v.pipe(
    v.array(v.object({ url: PAGE_URL, name: v.optional(NAME) })),
    v.minLength(1, 'Give at least one address.'),
    v.maxLength(2_000, 'At most 2,000 pages can be added at once.'),
  ),
});
export const TRY_NEXT = v.object({
  toPageId: v.pipe(v.number('Name the page to go to.'), v.integer()),
  conditionsId: v.string(),
});
export const DISCOVER = v.object({
  url: PAGE_URL,
  limit: v.optional(
    v.pipe(
      v.number('The limit is a number.'),
      v.integer('The limit is a whole number.'),
      v.minValue(1, 'At least one page.'),
      v.maxValue(2_000, 'At most 2,000 pages.'),
    ),
    200,
  ),
});
export const MOVE_JOB = v.object({ move: v.picklist(['up', 'down', 'first']) });

const HEADER = v.tuple([
  v.pipe(
    v.string(),
    v.regex(/^[!#$%&'*+.^_`|~0-9A-Za-z-]+$/, 'A header’s name holds letters, digits and hyphens only.'),
  ),
  v.pipe(v.string(), v.regex(/^[^\r\n]*$/, 'A header’s value is one line.')),
]);

/** How a page is measured; secrets that are left out stay as they are. */
export const PAGE_SETTINGS = v.object({
  runs: v.pipe(
    v.number('Runs are a number.'),
    v.integer(),
    v.minValue(1, 'At least one run.'),
    v.maxValue(50, 'At most 50 runs.'),
  ),
  returnVisits: v.boolean(),
  ownClock: v.boolean(),
  steps: v.pipe(v.string(), v.maxLength(5_000, 'The steps are too long.')),
  secrets: v.optional(
    v.object({
      headers: v.array(HEADER),
      cookies: v.array(
        v.object({
          name: v.pipe(v.string(), v.regex(/^[^\s=;,]+$/, 'A cookie’s name has no spaces, “=”, “;” or “,”.')),
          value: v.string(),
        }),
      ),
    }),
  ),
});

const CHECKS_TEXT = v.pipe(v.string(), v.maxLength(5_000, 'The checks are too long.'));
export const OWN_CHECKS = v.object({ page: CHECKS_TEXT, family: v.optional(CHECKS_TEXT) });

const within = (name: string, { least, most }: { least: number; most: number }) =>
  v.pipe(
    v.number(`${name} is a number.`),
    v.minValue(least, `${name}: at least ${least.toLocaleString('en-GB')}.`),
    v.maxValue(most, `${name}: at most ${most.toLocaleString('en-GB')}.`),
  );

export const CONDITIONS = v.object({
  id: v.pipe(v.string(), v.regex(/^[a-z0-9-]{1,60}$/, 'That is no name for conditions.')),
  name: NAME,
  viewport: v.object({
    width: within('Viewport width', CONDITIONS_LIMITS.side),
    height: within('Viewport height', CONDITIONS_LIMITS.side),
  }),
  pixelRatio: within('Pixel ratio', CONDITIONS_LIMITS.pixelRatio),
  touch: v.boolean(),
  agent: v.picklist(['phone', 'desktop']),
  cpuSlowdown: within('CPU slowdown', CONDITIONS_LIMITS.cpuSlowdown),
  roundTripMs: within('Round trip', CONDITIONS_LIMITS.roundTripMs),
  downKbps: within('Rate down', CONDITIONS_LIMITS.kbps),
  upKbps: within('Rate up', CONDITIONS_LIMITS.kbps),
  protocol: v.picklist(['as-captured', 'production']),
});

const NOTE = v.pipe(
  v.string('Write the footnote.'),
  v.trim(),
  v.minLength(1, 'Write the footnote.'),
  v.maxLength(2_000, 'A footnote has 2,000 characters at most.'),
);
export const FOOTNOTE = v.object({
  urls: v.pipe(v.array(v.string()), v.maxLength(2, 'A footnote cites two rows at most.')),
  line: v.optional(
    v.nullable(v.pipe(v.string(), v.maxLength(300, 'A line of the bill has 300 letters at most.'))),
    null,
  ),
  atMs: v.nullable(
    v.pipe(
      v.number('The moment is a number of ms.'),
      v.minValue(0, 'A moment is not before the navigation began.'),
    ),
  ),
  text: NOTE,
});
export const FOOTNOTE_TEXT = v.object({ text: NOTE });

const FOLD_VIEWPORT = v.pipe(
  v.object({
    width: v.pipe(
      v.number(),
      v.integer(),
      v.minValue(100, 'A viewport is at least 100 wide.'),
      v.maxValue(4000, 'A viewport is at most 4,000 wide.'),
    ),
    height: v.pipe(
      v.number(),
      v.integer(),
      v.minValue(100, 'A viewport is at least 100 high.'),
      v.maxValue(4000, 'A viewport is at most 4,000 high.'),
    ),
    foldHeight: v.optional(v.pipe(v.number(), v.integer(), v.minValue(50, 'The fold lies at 50 or lower.'))),
  }),
  v.check(
    (one) => (one.foldHeight ?? one.height) <= one.height,
    'The fold cannot lie below the viewport’s lower edge.',
  ),
);
/** How a page's fold CSS is made. */
export const FOLD_SETTINGS = v.object({
  viewports: v.pipe(
    v.array(FOLD_VIEWPORT),
    v.minLength(1, 'Name at least one viewport.'),
    v.maxLength(6, 'Six viewports at most: the widths between them are proved as well.'),
    v.check(
      (all) => new Set(all.map((one) => one.width)).size === all.length,
      'Each viewport needs a width of its own.',
    ),
  ),
  decisions: v.pipe(
    v.array(
      v.pipe(
        v.object({
          verb: v.picklist(['keep', 'leave-out']),
          by: v.picklist(['selector', 'rule', 'sheet', 'element']),
          what: v.pipe(
            v.string(),
            v.trim(),
            v.minLength(1, 'Say what is kept or left out.'),
            v.maxLength(2000),
          ),
        }),
        v.check(
          (one) => one.by === 'sheet' || splitSelectors(one.what) !== null,
          'That is not a selector. Write it like .menu or nav > a.',
        ),
      ),
    ),
    v.maxLength(500, 'Five hundred decisions at most.'),
  ),
  budgetBytes: v.pipe(
    v.number(),
    v.integer(),
    v.minValue(500, 'A budget is at least half a kilobyte.'),
    v.maxValue(1_000_000, 'A budget is at most a megabyte.'),
  ),
  rest: v.picklist(['whole', 'less-fold', 'used-only'], 'There is no such way for the rest to arrive.'),
});
export const FOLD_ACCEPTANCE = v.object({ accepted: v.boolean() });
export const FAMILY_CHOICE = v.object({
  choice: v.nullable(v.picklist(['one set', 'each its own'], 'Choose one set, or each its own.')),
});

/** A file of visitors' figures, CSV or JSON, as its text. */
export const FIELD_FILE = v.object({
  text: v.pipe(
    v.string('Choose a file.'),
    v.minLength(1, 'The file is empty.'),
    v.maxLength(5_000_000, 'The file is larger than 5 MB: leave out pages that are not measured here.'),
  ),
});
export const OWNER = v.object({
  domains: v.pipe(
    v.array(v.pipe(v.string(), v.trim(), v.toLowerCase(), v.regex(/^[a-z0-9.-]+$/, 'That is no domain.'))),
    v.minLength(1, 'Name at least one domain.'),
    v.maxLength(100, 'One hundred domains at most.'),
  ),
  name: v.pipe(v.string('Give a name.'), v.trim(), v.maxLength(120, 'The name is too long.')),
});
export const ACCEPT = v.object({
  hosts: v.pipe(v.array(v.pipe(v.string(), v.minLength(1))), v.minLength(1, 'Name a host.')),
  publicKeyHash: v.pipe(v.string(), v.regex(/^[A-Za-z0-9+/]{43}=$/, 'That is no public key hash.')),
});

const MATCH = v.union([
  v.object({ url: v.string() }),
  v.object({ host: v.string() }),
  v.object({ inline: v.string() }),
]);
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
          RULE_KINDS,
          'A rule’s kind is stylesheet, script, font, image, embed, host or next.',
        ),
        match: MATCH,
        scope: v.picklist(['page', 'family', 'site'], 'A rule’s scope is page, family or site.'),
        treatment: v.string('A rule names its treatment.'),
        reason: v.string(),
        why: v.optional(
          v.pipe(v.string('A why is a text.'), v.maxLength(500, 'A reason is at most 500 characters long.')),
        ),
        risk: v.picklist(['low', 'medium', 'high']),
        together: v.optional(v.array(MATCH)),
      }),
      v.check(
        (rule) => treatmentOf(rule.kind, rule.treatment) !== null,
        ({ input }) => `There is no treatment “${input.treatment}” for a ${input.kind}.`,
      ),
      v.transform(({ together, why, ...rule }) => ({
        ...rule,
        ...(together ? { together } : {}),
        ...(why ? { why } : {}),
      })),
    ),
    'A plan holds a list of rules.',
  ),
});

/** A trial in which more is loaded than the page as is and as treated. */
export const TRIAL_WITH_ARMS = v.object({
  conditionsId: v.string(),
  idealPage: v.optional(v.boolean(), false),
  otherPlan: v.optional(v.nullable(PLAN), null),
  visit: v.optional(v.picklist(VISIT_KINDS), 'first'),
});
/** A rule that is excepted, and what it does. */
export const EXCEPTION = v.object({
  ruleId: v.string(),
  why: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(2_000)),
});
/** A plan that is kept, with the recommended one that it was decided over: what rehearsing finds meanwhile is not undone by it. */
export const DECIDED_PLAN = v.object({ ...PLAN.entries, over: v.optional(PLAN) });

const SPARED = v.pipe(
  v.array(
    v.pipe(
      v.string(),
      v.trim(),
      v.startsWith('/', 'A page that is left alone is told by its path: “/checkout*”.'),
      v.maxLength(200, 'That path is too long.'),
    ),
  ),
  v.maxLength(50, 'Fifty paths at most.'),
);
const WHAT_IS_DECIDED = {
  kind: v.picklist(
    RULE_KINDS,
    'What is decided about is a stylesheet, script, font, image, embed, host or next.',
  ),
  knownBy: v.picklist(KNOWN_BY, `A decision knows its assets by ${KNOWN_BY.join(', ')}.`),
  what: v.pipe(v.string(), v.minLength(1, 'Say what it is about.'), v.maxLength(2_000, 'That is too long.')),
  treatment: v.string('A decision names its treatment.'),
  why: v.optional(
    v.pipe(v.string(), v.trim(), v.maxLength(500, 'A reason is at most 500 characters long.')),
    '',
  ),
  spared: v.optional(SPARED, []),
};
type Decided = { kind: RuleKind; treatment: string };
const isTreatment = ({ kind, treatment }: Decided) => treatmentOf(kind, treatment) !== null;
const noTreatment = ({ kind, treatment }: Decided) => `There is no treatment “${treatment}” for a ${kind}.`;

/** A decision for more pages than one. */
export const WIDE_DECISION = v.pipe(
  v.object({
    ...WHAT_IS_DECIDED,
    scope: v.picklist(['family', 'site'], 'It is for the page’s family or for the whole site.'),
  }),
  v.check(
    (one) => isTreatment(one),
    ({ input }) => noTreatment(input),
  ),
);
export const SPARED_PAGES = v.object({ spared: SPARED });

/** A file of decisions: what the interface gives out, and ./wistrel plan reads. */
export const DECISIONS = v.object({
  wistrelDecisions: v.literal(
    1,
    'This is not a file of decisions of a version that is known here (wistrelDecisions: 1).',
  ),
  decisions: v.array(
    v.pipe(
      v.object({ ...WHAT_IS_DECIDED, family: v.optional(v.nullable(v.string()), null) }),
      v.check(
        (one) => isTreatment(one),
        ({ input }) => noTreatment(input),
      ),
    ),
    'A file of decisions holds a list of them.',
  ),
});
