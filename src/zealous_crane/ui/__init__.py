"""The window: everything a person sees and touches. With ``paint`` and ``paper`` the only packages
that know Qt."""
