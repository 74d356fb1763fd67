import type { NextConfig } from 'next'

/** Names and addresses come from outside: whatever gets into a page, it loads from and speaks to nobody else. */
const policy = [
  "default-src 'self'",
  // Next.js and the styles write into the page itself; `next dev` evaluates as well.
  `script-src 'self' 'unsafe-inline'${process.env.NODE_ENV === 'production' ? '' : " 'unsafe-eval'"}`,
  "style-src 'self' 'unsafe-inline'",
  "img-src 'self' data: blob:",
  "object-src 'none'",
  "base-uri 'none'",
  "form-action 'self'",
  "frame-ancestors 'none'",
].join('; ')

const config: NextConfig = {
  poweredByHeader: false,
  reactStrictMode: true,
  devIndicators: false,
  serverExternalPackages: ['pg'],
  // Types, lint and tests are checked by `npm test`; a build need not check them again.
  typescript: { ignoreBuildErrors: true },
  headers: async () => [
    {
      source: '/:path*',
      headers: [
        { key: 'Content-Security-Policy', value: policy },
        { key: 'X-Content-Type-Options', value: 'nosniff' },
        { key: 'Referrer-Policy', value: 'same-origin' },
      ],
    },
  ],
  experimental: { optimizePackageImports: ['@chakra-ui/react', 'lucide-react'] },
}
export default config
