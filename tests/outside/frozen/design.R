# Degrees of freedom and power by R, base package stats. Run: Rscript tests/outside/frozen/design.R
cat("two-sample power n=20 delta=1 sd=1:", sprintf("%.7f", power.t.test(n = 20, delta = 1, sd = 1)$power), "\n")
cat("two-sample n for 90 %:", sprintf("%.5f", power.t.test(power = .90, delta = 1, sd = 1)$n), "\n")
cells <- expand.grid(bore = factor(1:2), spacer = factor(1:2), setting = factor(1:3))
cells$y <- c(4, 6, 5, 9, 7, 8, 6, 12, 9, 11, 8, 15)
print(anova(lm(y ~ (bore + spacer + setting)^2, data = cells)))
half <- cells[c(1, 4, 6, 7, 9, 12), ]
print(alias(lm(y ~ (bore + spacer + setting)^2, data = half))$Complete)
