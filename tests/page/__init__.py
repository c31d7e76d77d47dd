"""Logic of the page without a browser: its TypeScript modules, bundled once and run by Node."""
