--= ask TOP
--= top top
--= port a in std_logic
entity other is port (z : in std_logic); end;
entity top is port (a : in std_logic); end;
