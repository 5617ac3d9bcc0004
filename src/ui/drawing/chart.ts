import { BarElement, CategoryScale, Chart, Legend, LinearScale, Tooltip, type ChartOptions } from 'chart.js';
import { themeColor } from './canvas.ts';

Chart.register(BarElement, CategoryScale, LinearScale, Legend, Tooltip);

const font = { family: 'Plain Figures, Atkinson Hyperlegible, sans-serif', size: 12 };

/** More names than these stand on end. */
const MOST_LEVEL = 14;

/**
 * Options of a graph of so many counts: lying bars with their names at the left, or upright ones. A click tells which
 * bar.
 */
export function countOptions(
  unit: string,
  bars: number,
  upright: boolean,
  onBar: (at: number) => void,
): ChartOptions<'bar'> {
  const rotation = upright && bars > MOST_LEVEL ? 90 : 0;
  const muted = themeColor('muted');
  const names = {
    ticks: {
      color: themeColor('ink'),
      font: { ...font, size: 11 },
      autoSkip: false,
      minRotation: rotation,
      maxRotation: rotation,
    },
    grid: { display: false },
    border: { color: themeColor('rule') },
  };
  const counts = {
    title: { display: true, text: unit, color: muted, font },
    beginAtZero: true,
    grid: { color: themeColor('thread') },
    ticks: { color: muted, font, precision: 0, maxTicksLimit: 5 },
    border: { display: false },
  };
  return {
    animation: false,
    maintainAspectRatio: false,
    indexAxis: upright ? 'x' : 'y',
    scales: upright ? { x: names, y: counts } : { x: counts, y: names },
    plugins: { legend: { display: false } },
    onClick: (_, [bar]) => bar && onBar(bar.index),
  };
}

/** Options of a histogram in the current theme, with named axes. */
export function histogramOptions(xTitle: string, yTitle: string): ChartOptions<'bar'> {
  const muted = themeColor('muted');
  const axis = (text: string) => ({
    title: { display: true, text, color: muted, font },
    ticks: { color: muted, font, maxTicksLimit: 8, maxRotation: 0 },
    border: { color: themeColor('rule') },
  });
  return {
    animation: false,
    maintainAspectRatio: false,
    scales: {
      x: { ...axis(xTitle), grid: { display: false } },
      y: {
        ...axis(yTitle),
        beginAtZero: true,
        grid: { color: themeColor('thread') },
        ticks: { color: muted, font, precision: 0, maxTicksLimit: 4 },
      },
    },
    plugins: {
      legend: { align: 'end', labels: { color: muted, font, boxWidth: 12, boxHeight: 8 } },
    },
  };
}
