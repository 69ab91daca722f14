# Variance components of made-up pulls by R's lme4 (REML), to be compared with what Long Breath fits.
# Run: Rscript tests/outside/frozen/scatter.R   (Debian: apt install r-cran-lme4); the values stand in tests/outside/test_plan.py
suppressMessages(library(lme4))
pulls <- read.csv("tests/outside/frozen/pulls.csv")
pulls$place0 <- ave(pulls$place, pulls$visit, FUN = function(x) x - mean(x))
pulls$set <- interaction(pulls$visit, pulls$fitting)
found <- lmer(value ~ 0 + what + place0:factor(visit) + (1 | visit) + (1 | set), data = pulls, REML = TRUE,
              control = lmerControl(optCtrl = list(xtol_rel = 1e-12, ftol_abs = 1e-14)))
spread <- as.data.frame(VarCorr(found))
cat(sprintf("%s %.6f\n", spread$grp, spread$sdcor))
