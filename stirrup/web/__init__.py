"""The pages: they parse, ask the core, and show. No arithmetic of the job here."""
