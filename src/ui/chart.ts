import { BarElement, CategoryScale, Chart, Legend, LinearScale, Tooltip, type ChartOptions } from 'chart.js';
import { themeColor } from './canvas.ts';

Chart.register(BarElement, CategoryScale, LinearScale, Legend, Tooltip);

/** Options of a histogram in the current theme, with named axes. */
export function histogramOptions(xTitle: string, yTitle: string): ChartOptions<'bar'> {
  const muted = themeColor('muted');
  const font = { family: 'Plain Figures, Atkinson Hyperlegible, sans-serif', size: 12 };
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
