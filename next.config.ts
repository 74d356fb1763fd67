import type { NextConfig } from 'next'

const config: NextConfig = {
  poweredByHeader: false,
  reactStrictMode: true,
  devIndicators: false,
  serverExternalPackages: ['pg', 'workerpool'],
  // Types, lint and tests are checked by `npm test`; a build need not check them again.
  typescript: { ignoreBuildErrors: true },
  experimental: {
    optimizePackageImports: ['@chakra-ui/react', 'lucide-react'],
    // `src/proxy.ts` hands bodies on: those of files up to 200 MB, and enough more to see that one is longer.
    proxyClientMaxBodySize: '202mb',
  },
}
export default config
