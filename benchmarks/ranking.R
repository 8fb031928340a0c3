# The same model by metafor, on the rows of the benchmark: restricted likelihood, Knapp and Hartung, set-ups and materials as factors.
suppressMessages(library(metafor))
arguments <- commandArgs(trailingOnly = TRUE)
rows <- read.csv(arguments[1])
started <- proc.time()[["elapsed"]]
fit <- rma(mean, variance, mods = ~ factor(setup) + relevel(factor(material), ref = "m0"), data = rows, method = "REML", test = "knha")
cat(sprintf("%.3f %.9f\n", proc.time()[["elapsed"]] - started, sqrt(fit$tau2)))
