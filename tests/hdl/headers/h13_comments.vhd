--= top m
--= port a in std_logic
--= port b out std_logic
entity m is -- entity other is
  port ( /* a block
    comment; port (x : in bit); */
    a : in std_logic; -- a ; b
    b : out std_logic -- last one, no semicolon
  ); -- done
end m;
