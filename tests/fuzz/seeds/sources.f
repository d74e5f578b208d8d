// what is compiled
+define+N=8 +incdir+.
a.v
*.v
-f back.f
"a b.v"
