--= error 5 is expected
entity m is
  port (
    a : in std_logic;
    b in std_logic
  );
end m;
