"""Where builds are kept: PostgreSQL. The only package that knows SQL."""
