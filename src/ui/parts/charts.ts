import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
} from 'chart.js'

Chart.register(
  BarController,
  BarElement,
  CategoryScale,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
)

/** How every chart behaves: it stands still, and tells of whatever the pointer is above or below. */
export const usualChart = {
  animation: false,
  maintainAspectRatio: false,
  interaction: { mode: 'index', intersect: false },
} as const

/** An axis of days. */
export const dayAxis = (colour: string | undefined, display = true) => ({
  ticks: { color: colour, maxRotation: 0, autoSkipPadding: 14, display },
  grid: { display: false },
})
