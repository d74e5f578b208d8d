--= top m
--= port a in std_logic
entity m is port (a : in std_logic); 
  attribute note : string;
  attribute note of m : entity is "text";
end entity m;
architecture r of m is begin end r;
configuration c of m is
  for r
    for all : leaf use entity work.leaf(r); end for;
  end for;
end configuration c;
