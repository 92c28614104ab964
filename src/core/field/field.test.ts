import { describe, expect, it } from 'vitest';
import { METRICS, type MetricSpreads } from '../measure/metrics.ts';
import { readFieldFile } from './field-figures.ts';
import { compareWithField } from './resemblance.ts';

const CSV = `url,metric,percentile,value,device,period,visits
https://quay.test/#top,First contentful paint,50,1800,phone,October 2026,4120
https://quay.test/,first contentful paint,75,"2,600",phone,October 2026,4120
https://quay.test/,first contentful paint,75,2600,phone,October 2026,4120
https://quay.test/,first contentful paint,95,4100,phone,October 2026,4120
https://quay.test/,layout shift,75,0.08,,,
`;

function lab(firstContentfulPaintMs: number | null): MetricSpreads {
  const spread = (value: number | null) => ({ median: value, min: value, max: value, runs: [value] });
  return {
    ...(Object.fromEntries(METRICS.map(({ key }) => [key, spread(null)])) as MetricSpreads),
    firstContentfulPaintMs: spread(firstContentfulPaintMs),
  };
}

describe('a file of visitors’ figures', () => {
  it('is read from CSV; a line that cannot be read is left out and named', () => {
    const { figures, leftOut } = readFieldFile(CSV);
    expect(leftOut).toEqual(['Figure 2: “2,600” is no value of a metric.']);
    expect(figures).toHaveLength(4);
    expect(figures[0]).toEqual({
      url: 'https://quay.test/',
      metric: 'firstContentfulPaintMs',
      percentile: 50,
      value: 1_800,
      device: 'phone',
      period: 'October 2026',
      visits: 4_120,
    });
    expect(figures.at(-1)).toMatchObject({ metric: 'cumulativeLayoutShift', device: 'all', visits: null });
  });

  it('is read from JSON with the same keys', () => {
    const row = { url: 'https://quay.test/', metric: 'load', percentile: 75, value: 3000, device: 'desktop' };
    expect(readFieldFile(JSON.stringify([row])).figures).toMatchObject([{ metric: 'loadMs', value: 3_000 }]);
  });

  it.each([
    ['a,b\n1,2', /does not name the columns url, metric, percentile, value/],
    ['url,metric,percentile,value', /holds no figures/],
    ['[{"url":', /begins like JSON but is none/],
    ['{"figures":[]}', /not a list of figures/],
    ['url,metric,percentile,value\nnot an address,load,75,1', /None of its 1 figures.*not a full address/],
    ['url,metric,percentile,value\nhttps://a.test/,bounce,75,1', /“bounce” is none of the metrics/],
    ['url,metric,percentile,value\nhttps://a.test/,load,100,1', /“100” is no percentile/],
  ])('is refused in a plain sentence: %s', (text, sentence) => {
    expect(() => readFieldFile(text)).toThrow(sentence);
  });
});

describe('visitors beside the lab', () => {
  const { figures } = readFieldFile(CSV);

  it('tells between which of their percentiles the measurement lies', () => {
    const compared = compareWithField(figures, 'phone', lab(2_600))!;
    expect(compared.sentence).toBe(
      'First contentful paint here, 2,600 ms, is the visitors’ 75th percentile (phone, October 2026, 4,120 visits).',
    );
    expect(compareWithField(figures, 'phone', lab(3_000))!.sentence).toContain(
      'lies between the visitors’ 75th and 95th percentile',
    );
    expect(compared.metrics).toEqual([
      {
        metric: 'firstContentfulPaintMs',
        percentiles: [
          { percentile: 50, value: 1_800 },
          { percentile: 75, value: 2_600 },
          { percentile: 95, value: 4_100 },
        ],
      },
    ]);
  });

  it('says so when the conditions do not resemble what visitors have', () => {
    const harder = compareWithField(figures, 'phone', lab(6_000))!;
    expect(harder.resembles).toBe(false);
    expect(harder.sentence).toContain('harder than what visitors have');
    expect(harder.sentence).toContain('95 % of visits had it by 4,100 ms');
    expect(compareWithField(figures, 'phone', lab(900))!.sentence).toContain(
      'only 50 % of visits had it by 1,800 ms',
    );
  });

  it('takes figures of all devices where there are none of the device, and none of the other', () => {
    expect(compareWithField(figures, 'desktop', lab(900))).toMatchObject({
      device: 'all',
      metrics: [{ metric: 'cumulativeLayoutShift' }],
    });
    const phones = figures.filter((one) => one.device === 'phone');
    expect(compareWithField(phones, 'desktop', lab(900))).toBeNull();
  });
});
