"""Changes to a plan that Imbuto can try by itself."""
